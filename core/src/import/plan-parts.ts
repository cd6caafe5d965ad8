/** A plan that makes several tables, as one plan for each of them. */
import type { DesignChange } from '../parts/design-change.js';
import { feelName } from '../feel/names.js';
import { fieldKinds, type FieldPlan } from '../fields/kinds.js';
import type { ColumnPlan, ImportPlan } from './plan.js';
import type { ThingPlan } from './thing-plan.js';

export interface PlanPart {
  readonly plan: ImportPlan;
  /** Null: it is about the rows themselves. */
  readonly thing: ThingPlan | null;
}

/** The parts of a plan, each after those that its records refer to. A thing that is within none of the others' tables is left out. */
export function planParts(plan: ImportPlan): readonly PlanPart[] {
  const parts: PlanPart[] = [];
  const add = (table: string, thing: ThingPlan | null): void => {
    const inner = plan.things.filter((each) => each.within === table);
    for (const each of inner) add(each.table, each);
    parts.push({ plan: partOf(plan, thing, inner), thing });
  };
  add(plan.target.table, null);
  return parts;
}

function partOf(plan: ImportPlan, thing: ThingPlan | null, inner: readonly ThingPlan[]): ImportPlan {
  const taken = new Set(plan.things.flatMap((each) => [each.key, ...each.columns]));
  const columns = plan.columns.map((column, at): ColumnPlan => {
    const refers = inner.find((each) => each.key === at);
    if (refers !== undefined)
      return column.kind === 'new' ? { kind: 'field', field: refers.field, reading: column.reading, missing: 'complain' } : { kind: 'skip' };
    const isOwn = thing === null ? !taken.has(at) : thing.key === at || thing.columns.includes(at);
    if (!isOwn) return { kind: 'skip' };
    return thing?.key === at && column.kind === 'new' ? { ...column, field: { ...column.field, unique: true, required: true } as FieldPlan } : column;
  });
  const target = thing === null ? plan.target : { kind: 'new' as const, table: thing.table, name: thing.name, form: thing.form, list: thing.list };
  return { ...plan, target, columns, things: [] };
}

/** The changes that make the tables of a plan and their relationships, with the fields in the order of the columns. */
export function tablesOf(plan: ImportPlan): DesignChange[] {
  return planParts(plan).flatMap(({ plan: part, thing }) => {
    const { target } = part;
    if (target.kind !== 'new') return [];
    const steps = part.columns.flatMap((column, at): (FieldPlan | ThingPlan)[] => {
      if (column.kind === 'new') return [column.field];
      return plan.things.filter((each) => each.key === at && each.within === target.table);
    });
    // What a record is called comes first.
    const key = thing === null ? undefined : part.columns[thing.key];
    const ordered = key?.kind === 'new' ? [key.field, ...steps.filter((step) => step !== key.field)] : steps;
    const first = ordered.findIndex((step) => 'within' in step);
    const plain = (first < 0 ? ordered : ordered.slice(0, first)) as FieldPlan[];
    return [
      { kind: 'add_table', id: target.table, name: target.name, description: '', section: '', form: target.form, list: target.list, fields: plain },
      ...ordered.slice(plain.length).map((step): DesignChange => ('within' in step ? joined(step) : { kind: 'add_field', table: target.table, field: step })),
      ...(key?.kind === 'new' && !fieldKinds[key.field.kind].traits.caption
        ? [{ kind: 'change_table' as const, table: target.table, caption: feelName(key.field.name) }]
        : []),
    ];
  });
}

const joined = ({ relationship, table, within, field, fieldName, childrenName }: ThingPlan): DesignChange => ({
  kind: 'add_relationship',
  id: relationship,
  parent: table,
  child: within,
  fieldId: field,
  fieldName,
  childrenName,
  required: false,
  whenParentRemoved: 'refuse',
});
