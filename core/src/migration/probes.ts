/** What a migration asks the data before it runs, and how it tells what it finds. */
import type { StoredField as Field } from '../design/design.js';
import { ident } from '../sql/sql.js';
import type { Locale } from '../values/locale.js';
import { columnKind } from './columns.js';
import { conversionOf, sufferingOf } from './convert.js';
import type { Probe } from './migration.js';

export const plural = (n: number, each: string, many: string, locale: Locale): string => `${locale.count(n)} ${n === 1 ? each : many}`;
const mostShown = 5;
/** The first samples in quotes. */
export const quotedList = (samples: readonly string[]): string =>
  `${samples
    .slice(0, mostShown)
    .map((text) => `“${text}”`)
    .join(', ')}${samples.length > mostShown ? ' and more' : ''}`;

// A list of more records than this is no list to go through.
const mostRecords = 20;

/** Counts the rows of a subquery with the columns `shown` and `id`, shows some that differ, one more than are told, and gives the ids of some. */
export const probeText = (rows: string): string =>
  `WITH found AS (${rows}), few AS (SELECT shown, min(id) AS id FROM found GROUP BY shown ORDER BY min(id) LIMIT ${mostShown + 1}) ` +
  `SELECT (SELECT count(*)::int FROM found) AS count, COALESCE((SELECT array_agg(shown ORDER BY id) FROM few), '{}'::text[]) AS samples, ` +
  `COALESCE((SELECT array_agg(id ORDER BY id) FROM (SELECT id::float8 AS id FROM found ORDER BY id LIMIT ${mostRecords}) AS told), '{}') AS ids`;

/** The same for rows that each count for `n` records; `id` is that of one of these. */
export const weighedProbeText = (rows: string): string =>
  `WITH found AS (${rows}), few AS (SELECT shown, min(id) AS id FROM found GROUP BY shown ORDER BY min(id) LIMIT ${mostShown + 1}) ` +
  `SELECT (SELECT COALESCE(sum(n), 0)::int FROM found) AS count, COALESCE((SELECT array_agg(shown ORDER BY id) FROM few), '{}'::text[]) AS samples, ` +
  `COALESCE((SELECT array_agg(id ORDER BY id) FROM (SELECT id::float8 AS id FROM found ORDER BY id LIMIT ${mostRecords}) AS told), '{}') AS ids`;

/**
 * Values in more than one record: a field that becomes unique can't have them. `rows` has the columns `id` and `value`, as they
 * will be. Of each value the last record is told.
 */
export const repeatedProbe = (rows: string, names: string, table: string): Probe => ({
  table,
  text: probeText(`SELECT max(id) AS id, value::text AS shown FROM (${rows}) AS rows WHERE value IS NOT NULL GROUP BY value HAVING count(*) > 1`),
  meaning: 'blocks',
  sentence: (count, samples, locale) =>
    `${plural(count, 'value', 'values', locale)} of ${names} ${count === 1 ? 'appears' : 'appear'} in more than one record (${quotedList(samples)}). Change those records first.`,
});

/** Records that are their own parent: a relationship that allows none can't have them. */
export const ownParentsProbe = (at: string, was: Field, field: Field, table: { readonly id: string; readonly name: string }): Probe => ({
  table: table.id,
  text: probeText(`SELECT id, id::text AS shown FROM ${at} WHERE ${ident(was.column)} = id`),
  meaning: 'blocks',
  sentence: (count, _, locale) =>
    `In ${plural(count, 'record', 'records', locale)} of ${table.name} the ${field.name} is the record itself. Change those first.`,
});

/** Asked before the migration, when the column has its old name: what becomes empty, and what becomes something else. */
export function sufferingProbes(at: string, table: string, was: Field, field: Field, zone: string): readonly [Probe, Probe] {
  const probing = conversionOf(was, field, zone) ?? { expression: 'NULL', canLose: true };
  const { lost, altered } = sufferingOf(was, field, probing.expression);
  const from = `FROM ${at} WHERE`;
  const text = columnKind(was).asText(ident(was.column), was);
  return [
    {
      table,
      text: probeText(`SELECT id, ${text} AS shown ${from} ${lost}`),
      meaning: 'loses',
      sentence: (count, samples, locale) =>
        `${plural(count, 'value of', 'values of', locale)} ${was.name} ${count === 1 ? 'does' : 'do'} not fit the new kind and ${count === 1 ? 'becomes' : 'become'} empty: ${quotedList(samples)}. The old values are kept for 30 days. Undo restores them.`,
    },
    {
      table,
      text: probeText(`SELECT id, ${text} || '” becomes “' || ${columnKind(field).asText(`(${probing.expression})`, field)} AS shown ${from} ${altered}`),
      meaning: 'loses',
      sentence: (count, samples, locale) =>
        `${plural(count, 'value of', 'values of', locale)} ${was.name} ${count === 1 ? 'changes' : 'change'}: ${quotedList(samples)}. The old values are kept for 30 days. Undo restores them.`,
    },
  ];
}
