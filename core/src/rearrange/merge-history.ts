/**
 * Records that become those of another table take their history along. Each line gets the values of the old fields under the ids of
 * the new ones too, because the history is read by the ids of today's fields. The old ids stay in it for the way back.
 */
import { ident, literal } from '../sql/sql.js';

/** One field's values under the id of another. */
export type Renamed = readonly [was: string, is: string];

interface Moved {
  readonly schema: string;
  readonly from: string;
  readonly to: string;
  readonly fields: readonly Renamed[];
  /** Of each table whose records refer to those that move: the field that did, and the one that does. */
  readonly children: readonly { readonly child: string; readonly field: Renamed }[];
  /** What a record has from its first line on, as the lines of its beginning say it. */
  readonly begins: Readonly<Record<string, string>>;
  /** SQL: whether a line `h` about an import, which is one for all its records, goes along. */
  readonly imports: string;
}

/** SQL statements over `renumbered`, the numbers that each record had and has (`was`, `becomes`). */
export function historyMoves({ schema, from, to, fields, children, begins, imports }: Moved): readonly string[] {
  const history = `${ident(schema)}._history`;
  const names = fields.map(([was, is]) => `(${literal(was)}, ${literal(is)})`).join(', ');
  const renamed = (values: string): string =>
    fields.length === 0
      ? values
      : `${values} || (SELECT COALESCE(jsonb_object_agg(n.field, ${values} -> n.was), '{}') FROM (VALUES ${names}) AS n(was, field) WHERE ${values} ? n.was)`;
  const begun =
    Object.keys(begins).length === 0 ? '' : ` || CASE WHEN h.kind IN ('add', 'restore') THEN ${literal(JSON.stringify(begins))}::jsonb ELSE '{}' END`;
  return [
    `UPDATE ${history} AS h SET table_id = ${literal(to)}, record_id = r.becomes, before = ${renamed('h.before')}, after = ${renamed('h.after')}${begun} FROM renumbered AS r WHERE h.table_id = ${literal(from)} AND h.record_id = r.was`,
    `UPDATE ${history} AS h SET table_id = ${literal(to)} WHERE h.table_id = ${literal(from)} AND h.record_id = 0 AND (${imports})`,
    ...children.map(({ child, field: [was, is] }) => {
      // A record that was deleted has no new number: the line keeps the one that it has.
      const number = (values: string): string =>
        `COALESCE((SELECT to_jsonb(r.becomes) FROM renumbered AS r WHERE r.was = (${values} ->> ${literal(was)})::bigint), ${values} -> ${literal(is)}, 'null')`;
      const referring = (values: string): string =>
        `CASE WHEN ${values} ? ${literal(was)} THEN ${values} || jsonb_build_object(${literal(is)}, ${number(values)}) ELSE ${values} END`;
      return `UPDATE ${history} AS h SET before = ${referring('h.before')}, after = ${referring('h.after')} WHERE h.table_id = ${literal(child)} AND (h.before ? ${literal(was)} OR h.after ? ${literal(was)})`;
    }),
  ];
}
