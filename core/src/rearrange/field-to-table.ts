/** A text that many records repeat becomes a table with a record for each: the records refer to it. Fields that follow from it can go along. */
import { grantOf } from '../access/access.js';
import type { AppDesign, Grant, Role, StoredField, Table } from '../design/design.js';
import { fieldOf, tableOf } from '../design/read.js';
import type { FieldPlan } from '../fields/kinds.js';
import { columnKind, columnType } from '../migration/columns.js';
import { preparedName } from '../migration/prepared.js';
import { plural, probeText, quotedList } from '../migration/probes.js';
import { idsOf } from '../migration/table-sql.js';
import type { DesignChange } from '../parts/design-change.js';
import { withReplaced } from '../parts/expressions.js';
import type { UncheckedDesign } from '../parts/part.js';
import { freeName } from '../shapes/slug.js';
import { ident, literal } from '../sql/sql.js';
import { canBeTable, cannotGo } from './cannot-go.js';
import { carryMoves, planOf, withFormulas } from './carry.js';
import type { FieldToTable as Plan } from './plans.js';
import { reachOf, whatBeginsEmpty, whoSeesLess } from './rights.js';
import type { RearrangementKind } from './rearrangement.js';
import { columnIn, foldedSql, nameInExpressions, storedFieldOf, swapped, textIn, valueStep, withChanges, withReference } from './tools.js';

const tableIn = (plan: Plan, design: AppDesign): Table => tableOf(design, plan.table);

/** What a role can do with records that were texts before: see them where it saw all of them, make them where it could write them. */
function grantFor(plan: Plan, role: Role): Grant | null {
  const reach = reachOf(role, plan.table, plan.field);
  if (role.everything || !reach.sees) return null;
  const others = plan.carried.map((each) => ({ id: each.to, ...reachOf(role, plan.table, each.field) }));
  const ids = (some: typeof others): string[] => some.map((each) => each.id);
  return grantOf(`g_${plan.made.id.slice(-16)}_${role.id.slice(-20)}`, plan.made.id, {
    add: reach.changes,
    change: others.some((other) => other.changes),
    export: role.grants.some((grant) => grant.table === plan.table && grant.export && grant.condition === '' && !grant.hidden.includes(plan.field)),
    hidden: ids(others.filter((other) => !other.sees)),
    // What it is called is the same for all that refer to it.
    locked: [plan.made.nameField, ...ids(others.filter((other) => other.sees && !other.changes))],
  });
}

function changesOf(plan: Plan, design: AppDesign): readonly DesignChange[] {
  const table = tableIn(plan, design);
  const field = fieldOf(table, plan.field);
  const { made, relationship } = plan;
  const nameField: FieldPlan = {
    kind: 'text',
    id: made.nameField,
    name: made.nameLabel,
    description: '',
    required: true,
    unique: true,
    anyCase: true,
    default: null,
  };
  return [
    {
      kind: 'add_table',
      id: made.id,
      name: made.name,
      description: '',
      section: table.section,
      fields: [nameField, ...plan.carried.map((each) => planOf(fieldOf(table, each.field), each.to))],
      form: made.form,
      list: made.list,
    },
    {
      kind: 'add_relationship',
      id: relationship.id,
      parent: made.id,
      child: table.id,
      fieldId: relationship.field,
      fieldName: freeName(
        `${field.name.slice(0, 45)} reference`,
        table.fields.map((each) => each.name),
      ),
      childrenName: relationship.childrenName,
      required: false,
      whenParentRemoved: 'refuse',
    },
    ...design.roles.flatMap((role): DesignChange[] => {
      const grant = grantFor(plan, role);
      return grant === null ? [] : [{ kind: 'put', part: 'role', value: { ...role, grants: [...role.grants, grant] } }];
    }),
  ];
}

function after(plan: Plan, design: AppDesign, between: AppDesign): UncheckedDesign {
  const { field: id, made, relationship } = plan;
  const ids = new Map([[id, relationship.field]]);
  const field = fieldOf(tableIn(plan, design), id);
  const screens = new Map([...design.forms, ...design.lists].map((part) => [part.id, part]));
  // The reference was put at the end of forms and lists: there they are taken as they were, with it in the place of the field.
  const shown = <P extends { readonly id: string }>(parts: readonly P[]): readonly P[] =>
    parts.map((part) => swapped((screens.get(part.id) as P | undefined) ?? part, ids));
  const tables = between.tables.map((table): Table => (table.id === plan.table ? withReference(table, field, relationship.field, ids) : table));
  const draft = {
    ...swapped({ ...between, tables: [], forms: [], lists: [] }, ids),
    tables,
    forms: shown(between.forms),
    lists: shown(between.lists),
  } as AppDesign;
  const walk = `${nameInExpressions(draft, plan.table, relationship.field)}.${nameInExpressions(draft, made.id, made.nameField)}`;
  const walked = withReplaced(between, draft, new Map([[id, walk]]));
  return {
    ...walked,
    tables: walked.tables.map((table) => (table.id === plan.table ? withFormulas(draft, table, relationship.field, made.id, plan.carried) : table)),
  };
}

/** SQL: the same for values that become one record. */
const keyOf =
  (field: StoredField) =>
  (value: string): string =>
    foldedSql(columnKind(field).asText(value, field));

/** The different values of the field. There are far fewer of them than rows, so texts are compared here. `among`: SQL, which rows. */
const writtenIn = (at: string, field: StoredField, among = ''): string =>
  `SELECT ${columnIn('t', field)} AS raw, count(*) AS n, min(t.id) AS id FROM ${at} AS t WHERE ${columnIn('t', field)} IS NOT NULL${among} GROUP BY 1`;

/** What becomes a record, as most write it, and in how many ways it is written. */
const valuesOf = (field: StoredField, written: string): string =>
  `SELECT w.key, min(w.id) AS id, (array_agg(w.text ORDER BY w.n DESC, w.text))[1] AS shown, count(*) AS ways FROM (` +
  `SELECT v.id, v.n, btrim(${columnKind(field).asText('v.raw', field)}) AS text, ${keyOf(field)('v.raw')} AS key FROM (${written}) AS v` +
  `) AS w GROUP BY w.key`;

/** What the values move between, and where it is. */
function partsOf(plan: Plan, between: AppDesign, schema: string) {
  const [child, parent] = [tableOf(between, plan.table), tableOf(between, plan.made.id)];
  const [atChild, atParent] = [child, parent].map((table) => `${ident(schema)}.${ident(table.slug)}`) as [string, string];
  const [field, name, reference] = [
    storedFieldOf(child, plan.field),
    storedFieldOf(parent, plan.made.nameField),
    storedFieldOf(child, plan.relationship.field),
  ];
  const way = { between, from: child.id, to: parent.id, over: reference.id, group: columnIn('t', field), sameAs: keyOf(field), groupName: field.name };
  return { child, parent, atChild, atParent, field, name, reference, carry: carryMoves(way, plan.carried, schema) };
}

/** Each value becomes a record unless there is one of it, and rows refer to it. `among`: SQL, which rows. */
function referSql({ atChild, atParent, field, name, reference }: ReturnType<typeof partsOf>, among = ''): readonly [make: string, refer: string] {
  const named = foldedSql(textIn('p', name));
  const written = writtenIn(atChild, field, among);
  const refers = columnIn('t', reference);
  return [
    `INSERT INTO ${atParent} (${ident(name.column)}) SELECT v.shown FROM (${valuesOf(field, written)}) AS v WHERE NOT EXISTS (SELECT FROM ${atParent} AS p WHERE ${named} = ${foldedSql('v.shown')}) ORDER BY v.shown`,
    `UPDATE ${atChild} AS t SET ${ident(reference.column)} = m.id FROM (SELECT v.raw, p.id FROM (${written}) AS v JOIN ${atParent} AS p ON ${named} = ${keyOf(field)('v.raw')}) AS m WHERE ${columnIn('t', field)} = m.raw AND ${refers} IS DISTINCT FROM m.id${among}`,
  ];
}

export const fieldToTable: RearrangementKind<Plan> = {
  problem: (plan, design) => {
    const table = tableIn(plan, design);
    const field = fieldOf(table, plan.field);
    if (!canBeTable(design, field)) return `A table can be made of a text or a choice. ${field.name} is neither, or a route moves it.`;
    for (const each of plan.carried) {
      const problem = each.field === plan.field ? `${field.name} becomes the table.` : cannotGo(design, table, fieldOf(table, each.field));
      if (problem !== null) return problem;
    }
    return null;
  },
  describe: (plan, design) => `Made ${fieldOf(tableIn(plan, design), plan.field).name} of ${tableIn(plan, design).name} the table ${plan.made.name}`,
  between: (plan, design) => withChanges(design, changesOf(plan, design)),
  tables: (plan) => [plan.table, plan.made.id],
  loose: (plan) => [plan.field, plan.relationship.field, ...plan.carried.map((each) => each.field)],
  after,
  moves: (plan, design, between, schema) => {
    const parts = partsOf(plan, between, schema);
    const { child, parent, atChild, atParent, field, name, reference, carry } = parts;
    const [text, named] = [textIn('t', field), textIn('p', name)];
    const raw = columnIn('t', field);
    const values = valuesOf(field, writtenIn(atChild, field));
    const [make, refer] = referSql(parts);
    const gone = [plan.field, ...plan.carried.map((each) => each.field)].map((id) => fieldOf(tableIn(plan, design), id));
    const again = columnKind(field).fromText(named, field);
    const refers = `${columnIn('t', reference)} = p.id`;
    return {
      there: [
        valueStep(`Each ${field.name} becomes a record of ${parent.name}`, [make], {
          text: probeText(`SELECT v.id, v.shown FROM (${values}) AS v`),
          meaning: 'fills',
          sentence: (count, samples, locale) =>
            `${plural(count, 'record', 'records', locale)} of ${parent.name} ${count === 1 ? 'is' : 'are'} made: ${quotedList(samples)}.`,
        }),
        valueStep(`Records of ${child.name} refer to them`, [refer], {
          text: probeText(`SELECT v.id, v.shown FROM (${values}) AS v WHERE v.ways > 1`),
          meaning: 'fills',
          sentence: (count, samples, locale) =>
            `${plural(count, 'value is', 'values are', locale)} written in more than one way, with other capitals or blanks, and ${count === 1 ? 'becomes one record' : 'become one record each'}: ${quotedList(samples)}.`,
        }),
        ...carry.there,
        ...whoSeesLess(design, between, child.id, parent.id, gone),
        ...whatBeginsEmpty(child.name, gone),
      ],
      back: (since) => [
        valueStep(
          `Records of ${child.name} say their ${field.name} themselves`,
          [
            `UPDATE ${atChild} AS t SET ${ident(field.column)} = ${again} FROM ${atParent} AS p WHERE ${refers} AND ${raw} IS DISTINCT FROM ${again} AND ${foldedSql(text)} IS DISTINCT FROM ${foldedSql(named)}`,
            `UPDATE ${atChild} AS t SET ${ident(field.column)} = NULL WHERE ${columnIn('t', reference)} IS NULL AND ${columnIn('t', field)} IS NOT NULL`,
          ],
          {
            table: parent.id,
            text: probeText(`SELECT p.id, ${named} AS shown FROM ${atParent} AS p WHERE NOT EXISTS (SELECT FROM ${atChild} AS t WHERE ${refers})`),
            meaning: 'loses',
            sentence: (count, samples, locale) =>
              `${plural(count, 'record', 'records', locale)} of ${parent.name} that no record of ${child.name} refers to ${count === 1 ? 'goes' : 'go'} with the table: ${quotedList(samples)}. They are kept for 30 days.`,
          },
        ),
        valueStep(`Records without such a ${field.name} have none`, [], {
          table: child.id,
          text: probeText(`SELECT t.id, ${named} AS shown FROM ${atChild} AS t JOIN ${atParent} AS p ON ${refers} WHERE (${again}) IS NULL`),
          meaning: 'loses',
          sentence: (count, samples, locale) =>
            `${plural(count, 'record', 'records', locale)} of ${child.name} ${count === 1 ? 'has' : 'have'} a ${field.name} that was no choice: ${quotedList(samples)}. ${count === 1 ? 'It becomes' : 'They become'} empty.`,
        }),
        ...carry.back(since),
      ],
    };
  },
  prepares: (plan, design, between, { schema, keptSchema }) => {
    const old = tableIn(plan, design);
    const field = storedFieldOf(old, plan.field);
    const parts = partsOf(plan, between, schema);
    const { parent, atChild, atParent, name, reference, carry } = parts;
    const refers = columnIn('t', reference);
    // The numbers that the records will have.
    const records = `${ident(keptSchema)}.${ident(preparedName(reference.id))}`;
    return {
      column: {
        field: reference.id,
        slug: old.slug,
        type: columnType(reference),
        value: `(SELECT s.id FROM ${records} AS s WHERE s.key = ${keyOf(field)(columnIn('t', field))})`,
        follows: field.column,
        sources: [
          `CREATE TABLE ${records} AS SELECT row_number() OVER (ORDER BY v.shown) AS id, v.key, v.shown FROM (${valuesOf(field, writtenIn(`${ident(schema)}.${ident(old.slug)}`, field))}) AS v`,
          `CREATE UNIQUE INDEX ON ${records} (key)`,
          `ANALYZE ${records}`,
        ],
      },
      there: [
        `INSERT INTO ${atParent} (id, ${ident(name.column)}) SELECT s.id, s.shown FROM ${records} AS s WHERE EXISTS (SELECT FROM ${atChild} AS t WHERE ${refers} = s.id) ORDER BY s.id`,
        `SELECT setval(${literal(`${ident(schema)}.${ident(idsOf(parent))}`)}, max(id)) FROM ${atParent} HAVING count(*) > 0`,
        // Values that nobody had yet when the numbers were given.
        ...referSql(parts, ` AND ${refers} IS NULL`),
        ...carry.there.flatMap((step) => step.sql),
        `DROP TABLE ${records}`,
      ],
    };
  },
};
