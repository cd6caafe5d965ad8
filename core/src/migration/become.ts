/** The SQL by which the column of a field becomes that of another kind. */
import type { StoredField as Field } from '../design/design.js';
import type { Conversion } from '../fields/kind.js';
import { ident } from '../sql/sql.js';
import { columnKind, columnType } from './columns.js';
import { sufferingOf } from './convert.js';
import { endPrepared, preparedName, preparedValue, takePrepared } from './prepared.js';

/**
 * @param was the field before, with the name that its column has by now
 * @param table where it is in the database
 * @param aside where values go that do not survive; null: all do
 * @param prepared set when the new column is there already: the schema for kept data
 */
export function becomeSql(was: Field, field: Field, conversion: Conversion, table: string, aside: string | null, prepared: string | null): readonly string[] {
  const column = ident(was.column);
  const expression = prepared === null ? conversion.expression : ident(preparedName(field.id));
  const sql = prepared === null ? [] : [...endPrepared(field.id, table, preparedValue(conversion.expression, field), prepared)];
  if (aside !== null) {
    const { lost, altered } = sufferingOf(was, field, expression);
    const became = columnKind(field).asText(`(${expression})`, field);
    sql.push(`CREATE TABLE ${aside} AS SELECT id, ${column} AS value, ${became} AS became FROM ${table} WHERE (${lost}) OR (${altered})`);
  }
  const change = `ALTER TABLE ${table} ALTER COLUMN ${column}`;
  if (prepared === null) sql.push(`${change} DROP DEFAULT`, `${change} DROP NOT NULL`, `${change} TYPE ${columnType(field)} USING ${expression}`);
  else sql.push(`ALTER TABLE ${table} DROP COLUMN ${column}`, takePrepared(table, field));
  return sql;
}
