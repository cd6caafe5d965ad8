/** How the records of a table go to another one, and back. What says that it is one of them goes back, whenever it was made. */
import { isGiven, isStored, type AppDesign, type Relationship, type StoredField, type Table } from '../design/design.js';
import { relationshipOf, tableOf } from '../design/read.js';
import { columnDefault, differingIn } from '../migration/columns.js';
import type { MigrationStep } from '../migration/migration.js';
import { plural, probeText, quotedList, repeatedProbe } from '../migration/probes.js';
import { idsOf } from '../migration/table-sql.js';
import { startOf } from '../routes/route.js';
import { ident, literal } from '../sql/sql.js';
import { leftBehind } from './merged-design.js';
import type { MergeTables as Plan } from './plans.js';
import type { ValueMoves } from './rearrangement.js';
import { historyMoves } from './merge-history.js';
import { columnIn, listed, storedFieldOf, textIn, toldStep, valueStep } from './tools.js';

// Who made and changed a record, when, and how often, stays what it was.
const ownColumns = ['created_at', 'created_by', 'updated_at', 'updated_by', 'rev'].map(ident);

export function mergeMoves(plan: Plan, design: AppDesign, between: AppDesign, schema: string): ValueMoves {
  const [from, into] = [tableOf(between, plan.from), tableOf(between, plan.into)];
  const at = (table: Table): string => `${ident(schema)}.${ident(table.slug)}`;
  const [atFrom, atInto] = [at(from), at(into)];
  const mark = storedFieldOf(into, plan.mark.field);
  const [ofInto = '', ofFrom = ''] = mark.kind === 'choice' ? mark.choices.map((choice) => choice.id) : [];
  const isMarked = `${columnIn('p', mark)} = ${literal(ofFrom)}`;
  const went = storedFieldOf(from, plan.went.field);
  const pairs = [
    ...plan.carried.map((each) => [each.field, each.to] as const),
    ...plan.references.map((each) => [relationshipOf(design, each.relationship).field, each.field] as const),
  ].map(([was, is]): readonly [StoredField, StoredField] => [storedFieldOf(from, was), storedFieldOf(into, is)]);
  // Numbers that were given are still there on the way back; what came since is given its own.
  const returning = pairs.filter(([was]) => !isGiven(was));
  const children = plan.children.map((each) => childrenOf(design, between, at, each));
  // Records that come to a table with a route are where its records begin.
  const starts = design.routes.filter((route) => route.table === into.id).map((route) => ({ field: storedFieldOf(into, route.field), status: startOf(route) }));
  const columns = (all: typeof pairs, side: 0 | 1): string[] => [...all.map((each) => ident(each[side].column)), ...ownColumns];
  const count = `SELECT t.id, t.id::text AS shown FROM ${atFrom} AS t`;

  return {
    there: [
      valueStep(
        `Records of ${from.name} become records of ${into.name}`,
        [
          `UPDATE ${atInto} SET ${ident(mark.column)} = ${literal(ofInto)}`,
          `UPDATE ${atFrom} AS t SET ${ident(went.column)} = n.id FROM (SELECT o.was, nextval(${literal(`${ident(schema)}.${ident(idsOf(into))}`)}) AS id FROM (SELECT t.id AS was FROM ${atFrom} AS t ORDER BY t.id) AS o) AS n WHERE n.was = t.id`,
          `INSERT INTO ${atInto} (id, ${[mark, ...starts.map(({ field }) => field)].map((field) => ident(field.column)).join(', ')}, ${columns(pairs, 1).join(', ')}) ` +
            `SELECT ${columnIn('t', went)}, ${[ofFrom, ...starts.map(({ status }) => status)].map(literal).join(', ')}, ${columns(pairs, 0).join(', ')} FROM ${atFrom} AS t ORDER BY t.id`,
        ],
        {
          text: probeText(count),
          meaning: 'fills',
          sentence: (n, _, locale) =>
            `${plural(n, 'record', 'records', locale)} of ${from.name} ${n === 1 ? 'becomes a record' : 'become records'} of ${into.name}.`,
        },
      ),
      ...children.map(({ child, atChild, was, is }) =>
        valueStep(`Records of ${child.name} refer to them there`, [
          `UPDATE ${atChild} AS c SET ${ident(is.column)} = NULL WHERE ${columnIn('c', was)} IS NULL AND ${columnIn('c', is)} IS NOT NULL`,
          `UPDATE ${atChild} AS c SET ${ident(is.column)} = ${columnIn('t', went)} FROM ${atFrom} AS t WHERE t.id = ${columnIn('c', was)}`,
        ]),
      ),
      ...blockedBy(plan, design, at),
      ...leftBehind(plan, tableOf(design, from.id)).map((field) =>
        valueStep(`${field.name} stays behind`, [], {
          table: from.id,
          text: probeText(`SELECT t.id, ${textIn('t', field)} AS shown FROM ${atFrom} AS t WHERE ${columnIn('t', field)} IS NOT NULL`),
          meaning: 'loses',
          sentence: (n, samples, locale) =>
            `${plural(n, 'value', 'values', locale)} of ${field.name} ${n === 1 ? 'does' : 'do'} not go along: ${quotedList(samples)}. They are kept for 30 days. Undo restores them.`,
        }),
      ),
      ...pairs.filter(([was]) => isGiven(was)).map(([was]) => toldStep(`${was.name} becomes a text: its numbers stay, and new records get none.`)),
      removedBehind(from, schema, atFrom),
    ],
    renumbers: {
      there: {
        from: from.id,
        to: into.id,
        pairs: `SELECT t.id AS was, ${columnIn('t', went)} AS becomes FROM ${atFrom} AS t`,
        history: historyMoves({
          schema,
          from: from.id,
          to: into.id,
          fields: pairs.map(([was, is]) => [was.id, is.id]),
          children: children.map(({ child, was, is }) => ({ child: child.id, field: [was.id, is.id] })),
          begins: Object.fromEntries([[mark.id, ofFrom] as const, ...starts.map(({ field, status }) => [field.id, status] as const)]),
          imports: 'true',
        }),
      },
      back: {
        from: into.id,
        to: from.id,
        pairs: `SELECT ${columnIn('t', went)} AS was, t.id AS becomes FROM ${atFrom} AS t`,
        history: historyMoves({
          schema,
          from: into.id,
          to: from.id,
          fields: returning.map(([was, is]) => [is.id, was.id]),
          children: children.map(({ child, was, is }) => ({ child: child.id, field: [is.id, was.id] })),
          begins: {},
          imports: `h.at IN (SELECT created_at FROM ${atFrom}) AND h.at NOT IN (SELECT created_at FROM ${atInto})`,
        }),
      },
    },
    back: () => [
      valueStep(
        `Records of ${from.name} come back`,
        [
          `DELETE FROM ${atFrom} AS t WHERE NOT EXISTS (SELECT FROM ${atInto} AS p WHERE p.id = ${columnIn('t', went)} AND ${isMarked})`,
          `UPDATE ${atFrom} AS t SET ${columns(returning, 0)
            .map((column, i) => `${column} = p.${columns(returning, 1)[i]}`)
            .join(', ')} FROM ${atInto} AS p WHERE p.id = ${columnIn('t', went)}`,
          `INSERT INTO ${atFrom} (${ident(went.column)}, ${columns(returning, 0).join(', ')}) SELECT p.id, ${columns(returning, 1).join(', ')} FROM ${atInto} AS p WHERE ${isMarked} AND NOT EXISTS (SELECT FROM ${atFrom} AS t WHERE ${columnIn('t', went)} = p.id) ORDER BY p.id`,
        ],
        {
          text: probeText(`SELECT p.id, p.id::text AS shown FROM ${atInto} AS p WHERE ${isMarked}`),
          meaning: 'fills',
          sentence: (n, _, locale) =>
            `${plural(n, 'record', 'records', locale)} of ${into.name} with the ${mark.name} ${from.name} ${n === 1 ? 'becomes a record' : 'become records'} of ${from.name}.`,
        },
      ),
      ...children.map(({ child, atChild, was, is }) =>
        valueStep(
          `Records of ${child.name} refer to them again`,
          [
            `UPDATE ${atChild} AS c SET ${ident(was.column)} = m.became FROM (SELECT o.id, t.id AS became FROM ${atChild} AS o LEFT JOIN ${atFrom} AS t ON ${columnIn('t', went)} = ${columnIn('o', is)}) AS m WHERE m.id = c.id AND ${columnIn('c', was)} IS DISTINCT FROM m.became`,
          ],
          referring({ child, atChild, field: is, condition: `NOT (${isMarked})`, named: was.name }),
        ),
      ),
      ...othersThere(plan, between).map(({ child, field }) =>
        valueStep(
          `Records of ${child.name} no longer refer to what goes back`,
          [`UPDATE ${at(child)} AS c SET ${ident(field.column)} = NULL FROM ${atInto} AS p WHERE p.id = ${columnIn('c', field)} AND ${isMarked}`],
          // The table that comes back is not there yet when this is asked.
          child.id === from.id ? null : referring({ child, atChild: at(child), field, condition: isMarked, named: field.name }),
        ),
      ),
      valueStep(`${into.name} has only its own records again`, [`DELETE FROM ${atInto} AS p WHERE ${isMarked}`], onlyThere(plan, design, atInto, isMarked)),
    ],
  };

  /** What references hold that can't be held after the way back. */
  function referring(of: { child: Table; atChild: string; field: StoredField; condition: string; named: string }): NonNullable<MigrationStep['probe']> {
    return {
      table: of.child.id,
      text: probeText(
        `SELECT c.id, c.id::text AS shown FROM ${of.atChild} AS c JOIN ${atInto} AS p ON p.id = ${columnIn('c', of.field)} WHERE ${of.condition}`,
      ),
      meaning: 'loses',
      sentence: (n, _, locale) =>
        `${plural(n, 'record', 'records', locale)} of ${of.child.name} ${n === 1 ? 'refers' : 'refer'} to a record of the other table, and ${n === 1 ? 'loses its' : 'lose their'} ${of.named}.`,
    };
  }
}

/** Records that were removed have no place where the others go: they can be restored once the table is there again. */
const removedBehind = (from: Table, schema: string, atFrom: string): MigrationStep =>
  valueStep(`Removed records of ${from.name} stay behind`, [], {
    text: probeText(
      `SELECT DISTINCT h.record_id AS id, h.record_id::text AS shown FROM ${ident(schema)}._history AS h WHERE h.kind = 'remove' AND h.table_id = ${literal(from.id)} AND NOT EXISTS (SELECT FROM ${atFrom} AS t WHERE t.id = h.record_id)`,
    ),
    meaning: 'fills',
    sentence: (n, _, locale) =>
      `${plural(n, 'removed record', 'removed records', locale)} of ${from.name} can’t be restored after the merge. Undo the merge first to restore ${n === 1 ? 'it' : 'them'}.`,
  });

interface Children {
  readonly child: Table;
  readonly atChild: string;
  /** The field that refers to a record of the table that goes, and the one that refers to it where it goes. */
  readonly was: StoredField;
  readonly is: StoredField;
}
function childrenOf(design: AppDesign, between: AppDesign, at: (table: Table) => string, each: Plan['children'][number]): Children {
  const { child: id, field } = relationshipOf(design, each.relationship);
  const child = tableOf(between, id);
  return { child, atChild: at(child), was: storedFieldOf(child, field), is: storedFieldOf(child, each.field) };
}

/** Where else records of the table that stays are referred to. */
function othersThere(plan: Plan, between: AppDesign): readonly { readonly child: Table; readonly field: StoredField }[] {
  const made = new Set([plan.went, ...plan.references, ...plan.children].map((each) => each.field));
  return between.relationships
    .filter((each) => each.parent === plan.into && !made.has(each.field))
    .map((each: Relationship) => {
      const child = tableOf(between, each.child);
      return { child, field: storedFieldOf(child, each.field) };
    });
}

/** Records that can't go: one has no value where each needs one, or the value of another where no two can have the same. */
function blockedBy(plan: Plan, design: AppDesign, at: (table: Table) => string): readonly MigrationStep[] {
  const [from, into] = [tableOf(design, plan.from), tableOf(design, plan.into)];
  return plan.carried.flatMap((each): MigrationStep[] => {
    const is = into.fields.find((field): field is StoredField => field.id === each.to);
    if (is === undefined) return [];
    const was = storedFieldOf(from, each.field);
    const empty = valueStep(`Each record has a ${is.name}`, [], {
      table: from.id,
      text: probeText(`SELECT t.id, t.id::text AS shown FROM ${at(from)} AS t WHERE ${columnIn('t', was)} IS NULL`),
      meaning: 'blocks',
      sentence: (n, _, locale) =>
        `${plural(n, 'record', 'records', locale)} of ${from.name} ${n === 1 ? 'has' : 'have'} no ${was.name}, and ${is.name} of ${into.name} is required. Fill ${n === 1 ? 'it' : 'them'} first.`,
    });
    const value = (of: string, field: StoredField): string => differingIn(is, columnIn(of, field), 'anyCase' in is ? is : {});
    const rows = `SELECT t.id, ${value('t', was)} AS value FROM ${at(from)} AS t UNION ALL SELECT NULL, ${value('p', is)} FROM ${at(into)} AS p`;
    const twice = valueStep(`No two have the same ${is.name}`, [], repeatedProbe(rows, is.name, from.id));
    return [...(is.required ? [empty] : []), ...(is.unique ? [twice] : [])];
  });
}

/** What records have that go back, in fields that there are none of where they go. */
function onlyThere(plan: Plan, design: AppDesign, atInto: string, isMarked: string): MigrationStep['probe'] {
  const [from, into] = [tableOf(design, plan.from), tableOf(design, plan.into)];
  const only = into.fields.filter(
    (field): field is StoredField =>
      isStored(field) &&
      !isGiven(field) &&
      columnDefault(field) === null &&
      !plan.carried.some((each) => each.to === field.id) &&
      !design.routes.some((route) => route.field === field.id),
  );
  if (only.length === 0) return null;
  return {
    table: into.id,
    text: probeText(
      `SELECT p.id, p.id::text AS shown FROM ${atInto} AS p WHERE ${isMarked} AND (${only.map((field) => `${columnIn('p', field)} IS NOT NULL`).join(' OR ')})`,
    ),
    meaning: 'loses',
    sentence: (n, _, locale) =>
      `${plural(n, 'record', 'records', locale)} that ${n === 1 ? 'goes' : 'go'} back to ${from.name} ${n === 1 ? 'has' : 'have'} values in fields that only ${into.name} has: ${listed(only.map((field) => field.name))}. ${n === 1 ? 'It loses' : 'They lose'} them.`,
  };
}
