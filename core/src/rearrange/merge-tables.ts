/**
 * Two tables become one: the records of one go to the other, beside its own. A new choice says which is which. What was made of
 * one of the tables keeps to the records that it had: its condition asks that choice too. Only the lists of the table where
 * records go show all of them.
 */
import { isGiven, isStored, type AppDesign, type Field, type Table } from '../design/design.js';
import { fieldOf, relationshipOf, tableOf } from '../design/read.js';
import { choicesOf } from '../fields/choice.js';
import type { FieldPlan } from '../fields/kinds.js';
import type { DesignChange } from '../parts/design-change.js';
import { freeName } from '../shapes/slug.js';
import { planOf } from './carry.js';
import { mergeMoves } from './merge-moves.js';
import { mergedDesign } from './merged-design.js';
import type { MergeTables as Plan } from './plans.js';
import type { RearrangementKind } from './rearrangement.js';
import { labelInExpressions, namesOn, withChanges } from './tools.js';

// What two fields that hold the same values can differ in.
const besidesValues = new Set(['id', 'name', 'description', 'column', 'required', 'unique', 'anyCase', 'default', 'listWidth', 'fixed', 'startsWithLast']);
const settingsOf = (field: Field): string => JSON.stringify(Object.entries(field).filter(([name]) => !besidesValues.has(name)));

const isMoved = (design: AppDesign, field: Field): boolean => design.routes.some((route) => route.field === field.id);
/** Whether the values of a field can go to another table; references go besides. */
export const canMerge = (design: AppDesign, field: Field): boolean => isStored(field) && field.kind !== 'reference' && !isMoved(design, field);
/** Whether each value of one field is also a value of the other. Numbers that are given by themselves would be given twice. */
export const isAlike = (design: AppDesign, field: Field, other: Field): boolean =>
  canMerge(design, field) && canMerge(design, other) && !isGiven(field) && settingsOf(field) === settingsOf(other);
/** What a field becomes in a table that has none like it: numbers that were given stay as texts, and new records get none. */
const carriedPlan = (field: Field, id: string): FieldPlan => {
  const plan = planOf(field, id);
  return isGiven(field) ? { kind: 'text', id, name: plan.name, description: plan.description, required: false, unique: false, default: null } : plan;
};

/**
 * How two tables can be merged, as far as that can be told from their fields: a field that both have under one name becomes one.
 * @param newId makes the id of a new part
 */
export function proposedMerge(design: AppDesign, fromId: string, intoId: string, newId: (kind: 'f' | 'r') => string): Plan {
  const [from, into] = [tableOf(design, fromId), tableOf(design, intoId)];
  const alike = (field: Field): Field | undefined =>
    into.fields.find((each) => each.name.toLowerCase() === field.name.toLowerCase() && isAlike(design, field, each));
  return {
    kind: 'merge_tables',
    from: fromId,
    into: intoId,
    mark: { field: newId('f'), name: freeName('Kind', [...namesOn(design, into), ...from.fields.map((field) => field.name)]) },
    carried: from.fields.filter((field) => canMerge(design, field)).map((field) => ({ field: field.id, to: alike(field)?.id ?? newId('f') })),
    references: design.relationships.filter((each) => each.child === fromId).map((each) => ({ relationship: each.id, made: newId('r'), field: newId('f') })),
    children: design.relationships.filter((each) => each.parent === fromId).map((each) => ({ relationship: each.id, made: newId('r'), field: newId('f') })),
    went: { relationship: newId('r'), field: newId('f') },
  };
}

/** What keeps the records of a table where they are, and what can be done about that. */
function heldBy(design: AppDesign, table: Table): { readonly reason: string; readonly first: string } | null {
  if (design.relationships.some((each) => each.parent === table.id && each.child === table.id))
    return { reason: `Records of ${table.name} refer to each other.`, first: 'Remove that relationship first.' };
  const route = design.routes.find((each) => each.table === table.id);
  if (route !== undefined) return { reason: `The route ${route.name} moves records of ${table.name}.`, first: 'Remove the route first.' };
  const tie = design.ties.find((each) => each.table === table.id);
  return tie === undefined ? null : { reason: `People are tied to records of ${table.name} as ${tie.name}.`, first: 'Remove that tie first.' };
}

/** Why the tables can't become one, whatever their fields. */
function problemOfTables(design: AppDesign, from: Table, into: Table): string | null {
  if (from === into) return 'A table can’t be merged into itself.';
  const link = [from, into].find((table) => table.isLink);
  if (link !== undefined) return `${link.name} only says which records belong together, and can’t be merged.`;
  const held = heldBy(design, from);
  if (held === null) return null;
  return `${held.reason} ${heldBy(design, into) === null ? `Merge ${into.name} into ${from.name} instead.` : held.first}`;
}

const staysBecause = (field: Field): string =>
  !isStored(field) ? 'it is calculated' : field.kind === 'reference' ? 'its relationship takes it along' : 'a route moves it';

function problemOfFields(plan: Plan, design: AppDesign, from: Table, into: Table): string | null {
  for (const each of plan.carried) {
    const field = fieldOf(from, each.field);
    if (!canMerge(design, field)) return `${field.name} can’t go: ${staysBecause(field)}.`;
    const to = into.fields.find((other) => other.id === each.to);
    if (to !== undefined && !isAlike(design, field, to))
      return `${field.name} of ${from.name} can’t be ${to.name} of ${into.name}: their values are not alike.`;
    if (plan.carried.some((other) => other !== each && other.field === each.field)) return `${field.name} of ${from.name} can’t become two fields.`;
    if (plan.carried.some((other) => other !== each && other.to === each.to)) return `Two fields of ${from.name} can’t both be ${to?.name ?? field.name}.`;
  }
  const unfilled = into.fields.find(
    (field) =>
      field.required &&
      isStored(field) &&
      !isGiven(field) &&
      field.default === null &&
      !isMoved(design, field) &&
      !plan.carried.some((each) => each.to === field.id),
  );
  if (unfilled === undefined) return null;
  const could = from.fields.some((field) => isAlike(design, field, unfilled));
  return could
    ? `${unfilled.name} of ${into.name} is required. Say which field of ${from.name} it is, or make it optional first.`
    : `${unfilled.name} of ${into.name} is required, and ${from.name} has no such field. Make it optional first.`;
}

/** Whether the plan names each relationship of the table once, and on its side. */
function isComplete(plan: Plan, design: AppDesign): boolean {
  const isNamed = (named: Plan['children'], side: 'parent' | 'child'): boolean => {
    const there = design.relationships.filter((each) => each[side] === plan.from).map((each) => each.id);
    return String(named.map((each) => each.relationship).toSorted()) === String(there.toSorted());
  };
  return isNamed(plan.references, 'child') && isNamed(plan.children, 'parent');
}

function between(plan: Plan, design: AppDesign): AppDesign {
  const [from, into] = [tableOf(design, plan.from), tableOf(design, plan.into)];
  const mark: FieldPlan = {
    kind: 'choice',
    id: plan.mark.field,
    name: plan.mark.name,
    description: '',
    required: false,
    unique: false,
    choices: [...choicesOf([into.name, from.name])],
    default: labelInExpressions(into.name),
  };
  const names = [...namesOn(design, into), mark.name];
  const made = plan.carried
    .filter((each) => !into.fields.some((field) => field.id === each.to))
    .map((each): FieldPlan => {
      const field = fieldOf(from, each.field);
      const name = freeName(field.name, names);
      names.push(name);
      return { ...carriedPlan(field, each.to), name };
    });
  const withFields = withChanges(
    unhidden(plan, design),
    [mark, ...made].map((field): DesignChange => ({ kind: 'add_field', table: into.id, field })),
  );
  type New = Omit<Extract<DesignChange, { kind: 'add_relationship' }>, 'kind' | 'required'>;
  const related = (all: AppDesign, change: New): AppDesign => {
    const fieldName = freeName(change.fieldName, namesOn(all, tableOf(all, change.child)));
    const childrenName = freeName(change.childrenName, namesOn(all, tableOf(all, change.parent)));
    return withChanges(all, [{ kind: 'add_relationship', required: false, ...change, fieldName, childrenName }]);
  };
  const likeOld = (all: AppDesign, { relationship, made: id, field: fieldId }: Plan['children'][number], place: Pick<New, 'parent'> | Pick<New, 'child'>) => {
    const { parent, child, childrenName, whenParentRemoved, field } = relationshipOf(design, relationship);
    return related(all, { id, parent, child, fieldId, fieldName: fieldOf(tableOf(design, child), field).name, childrenName, whenParentRemoved, ...place });
  };
  const withReferences = plan.references.reduce((all, each) => likeOld(all, each, { child: into.id }), withFields);
  const withChildren = plan.children.reduce((all, each) => likeOld(all, each, { parent: into.id }), withReferences);
  const { relationship: id, field: fieldId } = plan.went;
  return related(withChildren, {
    id,
    parent: into.id,
    child: from.id,
    fieldId,
    fieldName: into.name,
    childrenName: from.name,
    whenParentRemoved: 'refuse',
  });
}

/** The design with the tables of pairs shown that refer to the one that goes: for a while they refer to three. */
function unhidden(plan: Plan, design: AppDesign): AppDesign {
  const pairs = new Set(plan.children.map((each) => relationshipOf(design, each.relationship).child));
  return { ...design, tables: design.tables.map((table) => (table.isLink && pairs.has(table.id) ? { ...table, isLink: false } : table)) };
}

export const mergeTables: RearrangementKind<Plan> = {
  problem: (plan, design) => {
    const [from, into] = [tableOf(design, plan.from), tableOf(design, plan.into)];
    return (
      problemOfTables(design, from, into) ??
      problemOfFields(plan, design, from, into) ??
      (isComplete(plan, design) ? null : 'The relationships of the tables have changed in the meantime. Start again.')
    );
  },
  describe: (plan, design) => `Merged ${tableOf(design, plan.from).name} into ${tableOf(design, plan.into).name}`,
  between,
  loose: (plan, design) => [
    ...tableOf(design, plan.from).fields.map((field) => field.id),
    ...plan.carried.map((each) => each.to),
    ...plan.references.map((each) => each.field),
    ...plan.children.flatMap((each) => [each.field, relationshipOf(design, each.relationship).field]),
    plan.mark.field,
    plan.went.field,
  ],
  tables: (plan, design) => [plan.from, plan.into, ...plan.children.map((each) => relationshipOf(design, each.relationship).child)],
  after: mergedDesign,
  moves: mergeMoves,
};
