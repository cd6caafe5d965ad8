/** Whether changes that were asked for on an older version of a design can be made on the present one. */
import type { AppDesign, Table } from '../design/design.js';
import { isRemoval, type DesignChange } from './design-change.js';
import { findPart } from './remove.js';
import type { PartName } from '../design/design.js';

/** What a change replaces or takes away, as a design has it; two designs in which it is the same are not in its way. */
export function replacedBy(change: DesignChange, design: AppDesign): unknown {
  const part = (name: PartName, id: string): unknown => findPart(design, name, id) ?? null;
  const table = (id: string): Table | undefined => design.tables.find((each) => each.id === id);
  const field = (of: string, id: string): unknown => table(of)?.fields.find((each) => each.id === id) ?? null;
  switch (change.kind) {
    case 'put':
      return part(change.part, change.value.id);
    case 'remove':
      return part(change.part, change.id);
    case 'rename_app':
      return design.name;
    case 'set_time_zone':
      return design.timeZone;
    case 'set_region':
      return design.region;
    case 'set_map':
      return design.mapAddress;
    case 'add_table':
    case 'add_field':
    case 'add_relationship':
    case 'add_link':
      return null;
    case 'change_table':
      return { ...table(change.table), fields: [] };
    case 'change_field':
      return field(change.table, change.field.id);
    case 'remove_field':
      return field(change.table, change.field);
    case 'move_field':
      return table(change.table)?.fields.map((each) => each.id) ?? null;
    case 'change_relationship':
      return part('relationship', change.relationship);
    default:
      return change satisfies never;
  }
}

/** The same text for the same value: the database keeps the keys of an object in an order of its own. */
const inOrder = (value: unknown): string =>
  JSON.stringify(value, (_, each: unknown) =>
    typeof each === 'object' && each !== null && !Array.isArray(each) ? Object.fromEntries(Object.entries(each).sort(([a], [b]) => (a < b ? -1 : 1))) : each,
  );

/** The changes that would undo what somebody else has changed since `base`: the same parts are different there now. */
export const inTheWay = (changes: readonly DesignChange[], base: AppDesign, now: AppDesign): readonly DesignChange[] =>
  changes.filter((change) => inOrder(replacedBy(change, base)) !== inOrder(replacedBy(change, now)));

/** Whether what the changes are to remove is gone already, so that nothing is left to do. */
export const isGone = (changes: readonly DesignChange[], now: AppDesign): boolean =>
  changes.every((change) => isRemoval(change) && replacedBy(change, now) === null);
