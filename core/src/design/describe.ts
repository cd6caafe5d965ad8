import type { DesignChange } from './design-change.js';
import type { AppDesign } from './design.js';

/** One line for the log: what a change did, in the names that held before it. */
export function describeChange(change: DesignChange, before: AppDesign): string {
  const table = (id: string): string => before.tables.find((one) => one.id === id)?.name ?? 'a new table';
  const field = (tableId: string, id: string): string =>
    before.tables.find((one) => one.id === tableId)?.fields.find((one) => one.id === id)?.name ?? 'a field';
  switch (change.kind) {
    case 'rename_app':
      return `Renamed the app to ${change.name}`;
    case 'add_table':
      return `Added the table ${change.name}`;
    case 'change_table':
      return change.name !== undefined && change.name !== table(change.table)
        ? `Renamed ${table(change.table)} to ${change.name}`
        : `Changed ${table(change.table)}`;
    case 'change_list':
      return `Changed the list ${before.lists.find((one) => one.id === change.list)?.name ?? ''}`;
    case 'put_query': {
      const old = before.queries.find((one) => one.id === change.query.id);
      if (old === undefined) return `Added the query ${change.query.name}`;
      return old.name === change.query.name ? `Changed the query ${old.name}` : `Renamed the query ${old.name} to ${change.query.name}`;
    }
    case 'remove_query':
      return `Removed the query ${before.queries.find((one) => one.id === change.query)?.name ?? ''}`;
    case 'put_role':
      return `${before.roles.some((one) => one.id === change.role.id) ? 'Changed' : 'Added'} the role ${change.role.name}`;
    case 'remove_role':
      return `Removed the role ${before.roles.find((one) => one.id === change.role)?.name ?? ''}`;
    case 'put_tie':
      return `Tied people to records of ${table(change.tie.table)}`;
    case 'remove_tie':
      return `Ended the tie ${before.ties.find((one) => one.id === change.tie)?.name ?? ''}`;
    case 'set_time_zone':
      return `Set the time zone to ${change.timeZone}`;
    case 'remove_table':
      return `Removed the table ${table(change.table)}`;
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
    case 'change_relationship':
      return 'Changed a relationship';
    default:
      return change satisfies never;
  }
}
