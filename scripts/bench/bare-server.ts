/**
 * The least that could answer over HTTP: Koa and pg, and nothing is checked. It saves a record with one INSERT and its history
 * row in the same statement, and answers with the rows of any SELECT that it is handed.
 */
import { bodyParser } from '@koa/bodyparser';
import Koa from 'koa';
import pg from 'pg';
import type { AddressInfo } from 'node:net';
import { createServer } from 'node:http';

const pool = new pg.Pool({ connectionString: process.env['DATABASE_URL'], max: 12 });
const schema = process.env['SCHEMA'] ?? '';
const columns = ['code', 'keeper', 'place', 'number', 'mites', 'bees', 'warmth', 'amount', 'date', 'next', 'queen', 'stores'];
const text =
  `WITH w AS (INSERT INTO "${schema}".visits (${columns.map((name) => `"${name}"`).join(', ')}, created_by, updated_by) VALUES (${columns.map((_, i) => `$${i + 1}`).join(', ')}, 1, 1) RETURNING id, rev), ` +
  `h AS (INSERT INTO "${schema}"._history (table_id, record_id, rev, person_id, kind, before, after, batch, place) SELECT 'visits', id, rev, 1, 'add', NULL, $13::jsonb, $14::uuid, 1 FROM w) SELECT id, rev FROM w`;

const koa = new Koa();
koa.use(bodyParser());
koa.use(async (context) => {
  if (context.path === '/rows') {
    const { sql, values } = JSON.parse(String(context.query['asked'])) as { sql: string; values: unknown[] };
    context.body = (await pool.query<object>(sql, values)).rows;
    return;
  }
  const { key, writes } = context.request.body as { key: string; writes: { values: Record<string, unknown> }[] };
  const values = writes[0]?.values ?? {};
  const { rows } = await pool.query<object>({ name: 'save', text, values: [...Object.values(values), JSON.stringify(values), key] });
  context.body = { records: rows };
});
const http = createServer((request, response) => void koa.callback()(request, response));
http.listen(0, '127.0.0.1', () => process.send?.({ port: (http.address() as AddressInfo).port }));
