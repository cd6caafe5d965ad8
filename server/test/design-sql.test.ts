/** The tables of an app as an SQL file, run by PostgreSQL itself in an empty database. */
import { contract, designSql, fieldKindNames, fieldKinds, FieldPlan, type AppDesign, type DesignChange } from '@bibliona/core';
import { starters } from '@bibliona/demo/starters';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { emptyDatabase, makeApp, table, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada');
});
afterAll(() => it.close());

/** Every kind of field with every set of its settings, and what else hangs on a table. */
const everything: readonly DesignChange[] = [
  table('sites', 'Sites', [
    FieldPlan.parse({ kind: 'text', id: 'f_site', name: "Site's \u201cname\u201d", description: 'As on the map', required: true, unique: true }),
  ]),
  table(
    'things',
    'Things',
    fieldKindNames
      .filter((kind) => kind !== 'reference' && fieldKinds[kind].column !== null)
      .flatMap((kind) =>
        fieldKinds[kind].sample.settings.map((settings, i) =>
          FieldPlan.parse({ kind, id: `f_${kind}_${i}`, name: `${fieldKinds[kind].word} ${i}`, ...settings }),
        ),
      ),
  ),
  {
    kind: 'add_relationship',
    id: 'r_things',
    parent: 'sites',
    child: 'things',
    fieldId: 'f_of',
    fieldName: 'Site',
    childrenName: 'Things',
    required: false,
    unique: false,
    whenParentRemoved: 'clear',
  },
];

/** What the catalog says of the tables of a schema, without the name of the schema. */
async function catalog(ask: TestServer['sql'], schema: string): Promise<readonly string[]> {
  const rows = await ask<{ line: string }>(
    `SELECT line FROM (
       SELECT concat_ws(' ', 'column', c.relname, a.attname, format_type(a.atttypid, a.atttypmod), a.attnotnull, a.attidentity, pg_get_expr(d.adbin, d.adrelid)) AS line
         FROM pg_attribute a JOIN pg_class c ON c.oid = a.attrelid LEFT JOIN pg_attrdef d ON d.adrelid = c.oid AND d.adnum = a.attnum
         WHERE c.relnamespace = $1::text::regnamespace AND c.relkind = 'r' AND a.attnum > 0 AND NOT a.attisdropped AND NOT starts_with(c.relname, '_')
       UNION ALL SELECT concat_ws(' ', 'constraint', conrelid::regclass, conname, pg_get_constraintdef(oid)) FROM pg_constraint
         WHERE connamespace = $1::text::regnamespace AND NOT starts_with((SELECT relname FROM pg_class WHERE oid = conrelid), '_')
       UNION ALL SELECT indexdef FROM pg_indexes WHERE schemaname = $1::text AND NOT starts_with(tablename, '_')
       UNION ALL SELECT pg_get_triggerdef(t.oid) FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid WHERE c.relnamespace = $1::text::regnamespace AND NOT tgisinternal
     ) AS all_of_it ORDER BY line`,
    [schema],
  );
  return rows.map((row) => row.line.replaceAll(`${schema}.`, ''));
}

test.each<[string, readonly DesignChange[]]>([
  ['every kind of field', everything],
  ...Object.values(starters).map((starter): [string, readonly DesignChange[]] => [starter.name, starter.design]),
])('%s', async (_, changes) => {
  const app = await makeApp(ada, 'Handed over', changes);
  const schema = (await it.sql<{ schema: string }>('SELECT schema FROM bibliona.app WHERE id = $1', [app.id]))[0]?.schema ?? '';
  const { design } = await ada.call(contract.openApp, { params: { app: app.id } });
  const other = await emptyDatabase();
  const client = new pg.Client({ connectionString: other.url });
  await client.connect();
  try {
    const sql = designSql(design as AppDesign, 'handed_over');
    await client.query(sql);
    const wanted = await catalog(it.sql, schema);
    expect(wanted.length).toBeGreaterThan(20);
    expect(
      await catalog(async <Row>(text: string, values: readonly unknown[] = []) => (await client.query(text, [...values])).rows as Row[], 'handed_over'),
    ).toEqual(wanted);
    for (const { name, slug, fields } of design.tables) {
      const { rows } = await client.query<{ comment: string }>(`SELECT obj_description('handed_over.${slug}'::regclass) AS comment`);
      expect(rows[0]?.comment.startsWith(name)).toBe(true);
      expect(fields.length).toBeGreaterThan(0);
    }
  } finally {
    await client.end();
    await other.drop();
  }
});
