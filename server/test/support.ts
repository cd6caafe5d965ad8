/** A server of its own for a test file, on a database of its own, and people who call it. */
import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { contract, RefusalAnswer, sqlLibrary, type DesignChange, type FieldPlan, type OpenApp, type HttpRoute, type Statement } from '@bibliona/core';
import fc from 'fast-check';
import pg from 'pg';
import { readConfig, startServer, type Config, type RunningServer } from '../src/index.js';
import { ask } from './ask.js';

// What failed leaves its records behind, so that smaller examples would fail by those: the first failure is the one to read.
fc.configureGlobal({ endOnFailure: true });

export interface Answer<T = unknown> {
  readonly status: number;
  readonly body: T;
  readonly headers: Headers;
}

/** Someone with a cookie, or without. */
export class Caller {
  cookie = '';
  constructor(private readonly address: string) {}

  async send(method: string, path: string, body?: unknown, headers: Readonly<Record<string, string>> = {}): Promise<Answer> {
    const isRaw = typeof body === 'string' || body instanceof Uint8Array;
    const answer = await ask(`${this.address}${path}`, {
      method,
      headers: {
        // Packing and unpacking each answer would take a twentieth of all tests; browsers ask for it in theirs.
        'accept-encoding': 'identity',
        ...(this.cookie === '' ? {} : { cookie: this.cookie }),
        ...(isRaw || body === undefined ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      body: body === undefined ? undefined : isRaw ? body : JSON.stringify(body),
    });
    const text = answer.bytes.toString();
    const set = answer.headers.getSetCookie().find((each) => each.startsWith('bibliona_session='));
    if (set !== undefined) this.cookie = set.split(';')[0] ?? '';
    let json: unknown = text;
    try {
      json = JSON.parse(text);
    } catch {
      // A page, not an answer of the interface.
    }
    return { status: answer.status, body: json, headers: answer.headers };
  }

  /** What a route streams. */
  async download(
    route: HttpRoute,
    params: Readonly<Record<string, string>>,
    query: Readonly<Record<string, string>> = {},
  ): Promise<{ readonly type: string | null; readonly bytes: Uint8Array }> {
    const { status, headers, bytes } = await ask(`${this.address}${this.path(route, params, query)}`, { method: 'GET', headers: { cookie: this.cookie } });
    if (status !== 200) throw new Error(`${route.path} answered ${status}: ${bytes.toString()}`);
    return { type: headers.get('content-type'), bytes };
  }

  path(route: HttpRoute, params: Readonly<Record<string, string | number>> = {}, query: Readonly<Record<string, string | number>> = {}): string {
    const path = route.path.replace(/:(\w+)/gu, (_, name: string) => encodeURIComponent(String(params[name] ?? 'x')));
    const search = new URLSearchParams(Object.entries(query).map(([key, value]) => [key, String(value)]));
    return search.size === 0 ? path : `${path}?${search.toString()}`;
  }

  /** Calls a route and expects it to be done. */
  async call<R extends HttpRoute>(
    route: R,
    asked: { params?: Readonly<Record<string, string | number>>; query?: Readonly<Record<string, string | number>>; body?: unknown } = {},
  ): Promise<R['answer']['_zod']['output']> {
    const answer = await this.send(route.method, this.path(route, asked.params, asked.query), route.method === 'POST' ? (asked.body ?? {}) : undefined);
    if (answer.status !== 200) throw new Error(`${route.path} answered ${answer.status}: ${JSON.stringify(answer.body).slice(0, 2000)}`);
    // The browser takes answers on trust: here each is held to its shape, with nothing in it that the shape does not name.
    const parsed: unknown = route.answer.parse(answer.body);
    if (!isDeepStrictEqual(parsed, answer.body))
      throw new Error(`${route.path} answers with more than its shape names: ${JSON.stringify(answer.body).slice(0, 2000)}`);
    return answer.body;
  }

  /** Calls a route and expects it to be refused. */
  async refused(
    route: HttpRoute,
    asked: { params?: Readonly<Record<string, string | number>>; query?: Readonly<Record<string, string | number>>; body?: unknown } = {},
  ): Promise<Answer<{ code: string; message: string; issues: { write?: number; field?: string; message: string }[]; details: unknown }>> {
    const answer = await this.send(route.method, this.path(route, asked.params, asked.query), route.method === 'POST' ? (asked.body ?? {}) : undefined);
    if (answer.status < 400) throw new Error(`${route.path} was done: ${JSON.stringify(answer.body).slice(0, 500)}`);
    RefusalAnswer.parse(answer.body);
    return answer as never;
  }
}

export interface TestServer {
  readonly server: RunningServer;
  readonly url: string;
  readonly files: string;
  /** The connection of a test that looks into the tables itself. */
  readonly sql: <Row = Record<string, unknown>>(text: string, values?: readonly unknown[]) => Promise<Row[]>;
  readonly caller: () => Caller;
  readonly person: (name: string) => Promise<Caller & { readonly id: number }>;
  readonly close: () => Promise<void>;
}

export const password = 'a long enough password';

/** The variable in which a run of tests says which database a server has started on. */
export const startedDatabase = 'STARTED_DATABASE';

interface Database {
  readonly url: string;
  /** Removes it. */
  readonly drop: () => Promise<void>;
}
export const emptyDatabase = (): Promise<Database> => makeDatabase('template1');

/** @param like the name of the database that it begins as a copy of */
async function makeDatabase(like: string): Promise<Database> {
  const base = process.env['TEST_DATABASE'];
  if (base === undefined) throw new Error('TEST_DATABASE is not set: run the tests with npm test');
  const name = `test_${randomUUID().replaceAll('-', '').slice(0, 16)}`;
  const admin = async (text: string): Promise<void> => {
    const client = new pg.Client({ connectionString: base });
    await client.connect();
    try {
      await client.query(text);
    } finally {
      await client.end();
    }
  };
  await admin(`CREATE DATABASE ${name} TEMPLATE ${like}`);
  const url = new URL(base);
  url.pathname = `/${name}`;
  return { url: url.toString(), drop: () => admin(`DROP DATABASE ${name} WITH (FORCE)`) };
}

/** A database with what compiled statements call, and a connection to it; no server. */
export async function statementDatabase(): Promise<{
  readonly client: pg.Client;
  readonly run: <Row>(statement: Statement) => Promise<Row[]>;
  readonly close: () => Promise<void>;
}> {
  const { url, drop } = await emptyDatabase();
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query('CREATE EXTENSION pg_trgm');
  for (const text of sqlLibrary) await client.query(text);
  return {
    client,
    run: async <Row>({ text, params }: Statement) => (await client.query(text, [...params])).rows as Row[],
    close: async () => {
      await client.end();
      await drop();
    },
  };
}

/** A server on that database, at any port. */
export const testConfig = (databaseUrl: string, files: string): Config => ({
  ...readConfig({ DATABASE_URL: databaseUrl, PORT: '0', FILES: files, WEB: process.env['WEB'] ?? '', LOG: 'silent' }),
  mailFrom: 'honey@quillmoor.example',
  everyoneMakesApps: true,
});

export async function testServer(settings: Partial<Config> = {}): Promise<TestServer> {
  const { url, drop } = await makeDatabase(process.env[startedDatabase] ?? 'template1');
  const files = await mkdtemp(join(tmpdir(), 'bibliona-test-'));
  const server = await startServer({ ...testConfig(url, files), ...settings });
  const pool = new pg.Pool({ connectionString: url, max: 2 });
  return {
    server,
    url,
    files,
    sql: async <Row>(text: string, values: readonly unknown[] = []) => (await pool.query(text, [...values])).rows as Row[],
    caller: () => new Caller(server.address),
    person: async (name) => {
      const email = `${name.toLowerCase().replaceAll(' ', '.')}@quillmoor.example`;
      const { id } = await server.people.add(name, email, password);
      const caller = new Caller(server.address);
      await caller.call(contract.signIn, { body: { email, password } });
      return Object.assign(caller, { id });
    },
    close: async () => {
      await pool.end();
      await server.close();
      await drop();
      await rm(files, { recursive: true, force: true });
    },
  };
}

/** Another server on the same database, which makes each change ready beside the work, however small its tables are. */
export async function readyMaker({ url, files }: TestServer): Promise<{ readonly as: (who: Caller) => Caller; readonly close: () => Promise<void> }> {
  const server = await startServer({ ...testConfig(url, files), largeTable: -1 });
  return { as: (who) => Object.assign(new Caller(server.address), { cookie: who.cookie }), close: () => server.close() };
}

/** The secret of the link in the latest mail to an address, as the mailbox keeps it: what its reader has, and nobody else. */
export async function mailedToken(it: TestServer, to: string, kind: 'join' | 'reset'): Promise<string> {
  const latest = `SELECT b.body FROM bibliona.mail AS m JOIN bibliona.mailbox AS b ON b.message_id = '<' || m.id || '@bibliona>' WHERE m.recipient = $1 AND b.body LIKE $2 ORDER BY m.created_at DESC LIMIT 1`;
  for (let tries = 0; tries < 200; tries += 1) {
    const waiting = await it.sql(`SELECT FROM bibliona.mail WHERE recipient = $1 AND state = 'waiting'`, [to]);
    const [mail] = waiting.length > 0 ? [] : await it.sql<{ body: string }>(latest, [to, `%/${kind}/%`]);
    if (mail !== undefined) return new RegExp(`/${kind}/([\\w-]+)`, 'u').exec(mail.body)?.[1] ?? '';
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`No mail with such a link came to ${to}`);
}

const common = { description: '', required: false, unique: false, default: null } as const;
export const field = (kind: string, id: string, name: string, more: object = {}): FieldPlan =>
  ({ ...common, ...(kind === 'decimal' ? { digits: 2 } : {}), ...more, kind, id, name }) as FieldPlan;
export const table = (id: string, name: string, fields: readonly FieldPlan[]): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  description: '',
  section: '',
  form: `fm_${id}`,
  list: `l_${id}`,
  fields: [...fields],
});

/** An app of apiaries and hives, as far as tests of records need one. */
export const honey: readonly DesignChange[] = [
  table('apiaries', 'Apiaries', [field('text', 'a_name', 'Name', { required: true, unique: true }), field('whole', 'a_height', 'Altitude')]),
  table('hives', 'Hives', [
    field('text', 'h_code', 'Code', { required: true, unique: true }),
    field('whole', 'h_year', 'Queen year'),
    field('decimal', 'h_rent', 'Rent'),
    field('date', 'h_since', 'Since'),
    field('yes_no', 'h_gentle', 'Gentle'),
    field('choice', 'h_stores', 'Stores', {
      choices: [
        { id: 'low', label: 'Low' },
        { id: 'fair', label: 'Fair' },
        { id: 'full', label: 'Full' },
      ],
    }),
    field('long_text', 'h_notes', 'Notes'),
  ]),
  {
    kind: 'add_relationship',
    id: 'r_hives',
    parent: 'apiaries',
    child: 'hives',
    fieldId: 'h_apiary',
    fieldName: 'Apiary',
    childrenName: 'Hives',
    required: false,
    whenParentRemoved: 'refuse',
  },
];

/** Makes an app and changes it until it has that design. */
export async function makeApp(builder: Caller, name: string, changes: readonly DesignChange[]): Promise<OpenApp> {
  const app = await builder.call(contract.makeApp, { body: { name } });
  return changes.length === 0 ? app : builder.call(contract.changeDesign, { params: { app: app.id }, body: { version: 1, changes } });
}

export const saveKey = (): string => randomUUID();
