/** The tables of an app as SQL for PostgreSQL, to make them in another database or to read them. */
import type { AppDesign } from '../design/design.js';
import { sqlLibrary } from '../feel/sql-library.js';
import { emptyDesign } from '../parts/parse.js';
import { ident, literal } from '../sql/sql.js';
import { difference } from './difference.js';
import { storedPart } from './stored.js';

/** @param schema in which the tables are made */
export function designSql(design: AppDesign, schema: string): string {
  const none = { ...emptyDesign(design.name), timeZone: design.timeZone };
  const { steps } = difference(none, design, { schema, keptSchema: `${schema}_kept`, stamp: '', setAside: [], prepared: new Set() });
  const statements = steps.flatMap((step) => step.sql);
  const asks = (name: string): boolean => statements.some((statement) => statement.includes(name));
  return [
    `-- The tables of ${design.name.replace(/\s+/gu, ' ')}, for PostgreSQL. Who can see and do what is no part of it.`,
    ...(asks('gin_trgm_ops') ? ['CREATE EXTENSION IF NOT EXISTS pg_trgm;'] : []),
    ...(asks('feel.') ? ['-- Functions that the tables use.', ...sqlLibrary.map(ended)] : []),
    `CREATE SCHEMA ${ident(schema)};`,
    ...statements.map(ended),
    ...comments(design, schema),
    '',
  ].join('\n\n');
}

const ended = (statement: string): string => `${statement.trim().replace(/;$/u, '')};`;

/** What tables and fields are called on screen: a column has the name that its field had first. */
function comments(design: AppDesign, schema: string): readonly string[] {
  const said = (name: string, description: string): string => literal(description === '' ? name : `${name}: ${description}`);
  return storedPart(design).tables.map((table) => {
    const at = `${ident(schema)}.${ident(table.slug)}`;
    return [
      `COMMENT ON TABLE ${at} IS ${said(table.name, table.description)};`,
      ...table.fields.map((field) => `COMMENT ON COLUMN ${at}.${ident(field.column)} IS ${said(field.name, field.description)};`),
    ].join('\n');
  });
}
