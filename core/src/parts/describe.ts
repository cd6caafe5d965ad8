import type { DesignChange } from './design-change.js';
import type { AppDesign } from '../design/design.js';
import { calledOf, partKind, type AnyPart } from './kinds.js';
import type { PartName } from '../design/design.js';
import { findPart } from './remove.js';
import { regionName } from '../values/regions.js';

/** One line for the log: what a change did, in the names that held before it. */
export function describeChange(change: DesignChange, before: AppDesign): string {
  const table = (id: string): string => before.tables.find((each) => each.id === id)?.name ?? 'a new table';
  const field = (tableId: string, id: string): string =>
    before.tables.find((each) => each.id === tableId)?.fields.find((each) => each.id === id)?.name ?? 'a field';
  switch (change.kind) {
    case 'rename_app':
      return `Renamed the app to ${change.name}`;
    case 'add_table':
      return `Added the table ${change.name}`;
    case 'change_table':
      if (change.isLink !== undefined) return change.isLink ? `Hid the table ${table(change.table)}` : `Made ${table(change.table)} a table of its own`;
      return change.name !== undefined && change.name !== table(change.table)
        ? `Renamed ${table(change.table)} to ${change.name}`
        : `Changed ${table(change.table)}`;
    case 'put':
      return describePut(change.part, change.value, findPart(before, change.part, change.value.id));
    case 'remove': {
      const old = findPart(before, change.part, change.id);
      return `Removed the ${partKind(change.part).word} ${old === undefined ? '' : calledOf(change.part, old)}`;
    }
    case 'set_time_zone':
      return `Set the time zone to ${change.timeZone}`;
    case 'set_region':
      return `Set the region to ${regionName(change.region)}`;
    case 'set_map':
      return change.address === null ? 'Took the map service away' : 'Set the map service';
    case 'add_field':
      return `Added ${change.field.name} to ${table(change.table)}`;
    case 'change_field': {
      const old = field(change.table, change.field.id);
      return old === change.field.name ? `Changed ${old} of ${table(change.table)}` : `Renamed ${old} of ${table(change.table)} to ${change.field.name}`;
    }
    case 'move_field':
      return `Moved ${field(change.table, change.field)} in ${table(change.table)}`;
    case 'remove_field':
      return `Removed ${field(change.table, change.field)} from ${table(change.table)}`;
    case 'add_relationship':
      return `Related ${table(change.child)} to ${table(change.parent)}`;
    case 'add_link':
      return `Linked ${change.sides.map((side) => table(side.table)).join(' and ')}`;
    case 'change_relationship':
      return 'Changed a relationship';
    default:
      return change satisfies never;
  }
}

function describePut(name: PartName, part: AnyPart, old: AnyPart | undefined): string {
  const { word } = partKind(name);
  if (old === undefined) return `Added the ${word} ${calledOf(name, part)}`;
  return old.name === part.name ? `Changed the ${word} ${calledOf(name, old)}` : `Renamed the ${word} ${old.name ?? ''} to ${part.name ?? ''}`;
}
