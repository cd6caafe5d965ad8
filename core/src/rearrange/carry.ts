/**
 * Fields that move to the table that a reference leads to: each record there gets the value that most of the records that
 * refer to it have. Where the field was, a formula of its name and id shows it from there.
 */
import type { AppDesign, Field, StoredField, Table } from '../design/design.js';
import { fieldOf, tableOf } from '../design/read.js';
import type { FieldPlan } from '../fields/kinds.js';
import type { MigrationStep } from '../migration/migration.js';
import { columnKind } from '../migration/columns.js';
import { plural, quotedList, weighedProbeText } from '../migration/probes.js';
import { ident } from '../sql/sql.js';
import type { Carried } from './plans.js';
import type { ValueMoves } from './rearrangement.js';
import { columnIn, nameInExpressions, storedFieldOf, valueStep } from './tools.js';

/** The same field for the table where it goes. It starts empty there, and holds what records say. */
export const planOf = (field: Field, id: string): FieldPlan => {
  const { column: _, ...plan } = field;
  return { ...plan, id, required: false, unique: false, default: null } as FieldPlan;
};

/** The table with formulas in the place of fields that have gone; `over` is the reference that leads to them. */
export const withFormulas = (between: AppDesign, table: Table, over: string, parent: string, carried: readonly Carried[]): Table => ({
  ...table,
  fields: table.fields.map((field): Field => {
    const found = carried.find(({ field: id }) => id === field.id);
    if (found === undefined) return field;
    const { id, name, description, column, listWidth } = field;
    const expression = `${nameInExpressions(between, table.id, over)}.${nameInExpressions(between, parent, found.to)}`;
    const shown = listWidth === undefined ? {} : { listWidth };
    return {
      kind: 'formula',
      id,
      name,
      description,
      column,
      required: false,
      unique: false,
      expression,
      digits: null,
      unit: null,
      default: null,
      ...shown,
    };
  }),
});

interface Way {
  readonly between: AppDesign;
  /** The table that the fields go from, and that they go to. */
  readonly from: string;
  readonly to: string;
  /** The field of the first that refers to the second. */
  readonly over: string;
  /** SQL over a row `t` of the first, in the design before: what rows that will refer to the same record have in common. */
  readonly group: string;
  /** SQL: equal for groups that count as the same one. */
  readonly sameAs: (group: string) => string;
  /** What such rows have in common, as a sentence calls it. */
  readonly groupName: string;
}

/** How often each value occurs in each group. There are far fewer of these than rows, so texts are compared here. */
const countedValues = (at: string, group: string, value: string): string =>
  `SELECT ${group} AS raw, ${value} AS said, count(*) AS n, min(t.id) AS id FROM ${at} AS t GROUP BY 1, 2`;

/** The most frequent value of each group (`key`); of two that are as frequent, the first in order; null where all are empty. */
const mostSay = (at: string, group: string, sameAs: (group: string) => string, value: string): string =>
  `SELECT w.key, (array_agg(w.said ORDER BY w.said IS NULL, w.n DESC, w.said))[1] AS taken FROM (` +
  `SELECT ${sameAs('v.raw')} AS key, v.said, sum(v.n) AS n FROM (${countedValues(at, group, value)}) AS v WHERE v.raw IS NOT NULL GROUP BY 1, 2` +
  `) AS w GROUP BY 1`;
const itself = (group: string): string => group;

export function carryMoves({ between, from, to, over, group, sameAs, groupName }: Way, carried: readonly Carried[], schema: string): ValueMoves {
  const [child, parent] = [tableOf(between, from), tableOf(between, to)];
  const [atChild, atParent] = [child, parent].map((table) => `${ident(schema)}.${ident(table.slug)}`) as [string, string];
  const reference = columnIn('t', storedFieldOf(child, over));
  const pairs = carried.map((each): { was: StoredField; is: StoredField; name: string } => ({
    was: storedFieldOf(child, each.field),
    is: storedFieldOf(parent, each.to),
    name: fieldOf(child, each.field).name,
  }));
  const there = pairs.flatMap(({ was, is, name }): MigrationStep[] => {
    const value = columnIn('t', was);
    const values = (condition: string, shown: string): string =>
      weighedProbeText(
        `SELECT v.id, v.n, ${shown} AS shown FROM (${countedValues(atChild, group, value)}) AS v LEFT JOIN (${mostSay(atChild, group, sameAs, value)}) AS m ON m.key = ${sameAs('v.raw')} WHERE ${condition}`,
      );
    return [
      valueStep(
        `${name} goes to ${parent.name}`,
        [
          `UPDATE ${atParent} AS p SET ${ident(is.column)} = m.taken FROM (${mostSay(atChild, reference, itself, value)}) AS m WHERE m.key = p.id AND ${columnIn('p', is)} IS DISTINCT FROM m.taken`,
        ],
        {
          table: from,
          text: values('v.said IS NOT NULL AND v.said IS DISTINCT FROM m.taken', columnKind(was).asText('v.said', was)),
          meaning: 'loses',
          sentence: (count, samples, locale) =>
            `${plural(count, 'record', 'records', locale)} of ${child.name} ${count === 1 ? 'has' : 'have'} another ${name} than most with the same ${groupName}, or no ${groupName}: ${quotedList(samples)}. They show what most have. The old values are kept for 30 days. Undo restores them.`,
        },
      ),
      valueStep(`Records without a ${name} show that of their ${groupName}`, [], {
        table: from,
        text: values('v.said IS NULL AND m.taken IS NOT NULL', 'v.id::text'),
        meaning: 'fills',
        sentence: (count, _, locale) =>
          `${plural(count, 'record', 'records', locale)} of ${child.name} without a ${name} ${count === 1 ? 'shows' : 'show'} that of ${count === 1 ? 'its' : 'their'} ${groupName}.`,
      }),
    ];
  });
  // A record that had the most frequent value gets the value of the parent, which may have been changed since; others keep their own.
  const back = (since: string): MigrationStep[] =>
    pairs.map(({ was, is, name }) => {
      const [value, now] = [columnIn('t', was), columnIn('p', is)];
      const isUnchanged = `${value} IS NOT DISTINCT FROM m.taken`;
      return valueStep(`${name} comes back to ${child.name}`, [
        `UPDATE ${atChild} AS t SET ${ident(was.column)} = p.${ident(is.column)} FROM ${atParent} AS p LEFT JOIN (${mostSay(atChild, reference, itself, value)}) AS m ON m.key = p.id WHERE ${reference} = p.id AND ${value} IS DISTINCT FROM ${now} AND (${isUnchanged} OR t.created_at > ${since})`,
      ]);
    });
  return { there, back };
}
