/** Fields move along a reference to another table: the region of each hive to its apiary. */
import type { AppDesign, Table } from '../design/design.js';
import { fieldOf, relationshipOf, tableOf } from '../design/read.js';
import type { DesignChange } from '../parts/design-change.js';
import { freeName } from '../shapes/slug.js';
import { columnIn, storedFieldOf, withChanges } from './tools.js';
import { cannotGo } from './cannot-go.js';
import { carryMoves, planOf, withFormulas } from './carry.js';
import type { MoveFields as Plan } from './plans.js';
import { rightsWhereTheyGo, whatBeginsEmpty, whoSeesLess } from './rights.js';
import type { RearrangementKind } from './rearrangement.js';

function tablesOf(plan: Plan, design: AppDesign): { readonly child: Table; readonly parent: Table; readonly over: string } {
  const { child, parent, field } = relationshipOf(design, plan.relationship);
  return { child: tableOf(design, child), parent: tableOf(design, parent), over: field };
}

export const moveFields: RearrangementKind<Plan> = {
  problem: (plan, design) => {
    const { child, parent } = tablesOf(plan, design);
    if (child.id === parent.id) return `${child.name} refers to itself: its fields are there already.`;
    for (const each of plan.carried) {
      const problem = cannotGo(design, child, fieldOf(child, each.field));
      if (problem !== null) return problem;
    }
    return null;
  },
  describe: (plan, design) => {
    const { child, parent } = tablesOf(plan, design);
    return `Moved ${plan.carried.map((each) => fieldOf(child, each.field).name).join(', ')} from ${child.name} to ${parent.name}`;
  },
  between: (plan, design) => {
    const { child, parent } = tablesOf(plan, design);
    const names = parent.fields.map((field) => field.name);
    return withChanges(design, [
      ...plan.carried.map(({ field: id, to }): DesignChange => {
        const field = fieldOf(child, id);
        const name = freeName(field.name, names);
        names.push(name);
        const plans = { ...planOf(field, to), name };
        return { kind: 'add_field', table: parent.id, field: plans };
      }),
      ...rightsWhereTheyGo(design, child.id, parent.id, plan.carried),
    ]);
  },
  tables: (plan, design) => {
    const { child, parent } = relationshipOf(design, plan.relationship);
    return [child, parent];
  },
  loose: (plan) => plan.carried.map((each) => each.field),
  after: (plan, design, between) => {
    const { child, parent, over } = tablesOf(plan, design);
    return { ...between, tables: between.tables.map((table) => (table.id === child.id ? withFormulas(between, table, over, parent.id, plan.carried) : table)) };
  },
  moves: (plan, design, between, schema) => {
    const { child, parent, over } = tablesOf(plan, design);
    const group = columnIn('t', storedFieldOf(child, over));
    const groupName = fieldOf(child, over).name;
    const carry = carryMoves({ between, from: child.id, to: parent.id, over, group, sameAs: (each) => each, groupName }, plan.carried, schema);
    const fields = plan.carried.map((each) => fieldOf(child, each.field));
    const told = [...whoSeesLess(design, between, child.id, parent.id, fields), ...whatBeginsEmpty(child.name, fields)];
    return { there: [...carry.there, ...told], back: carry.back };
  },
};
