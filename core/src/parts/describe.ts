import type { DesignChange } from './design-change.js';
import type { AppDesign } from '../design/design.js';

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
    case 'put_query':
      return describePut('query', change.query, before.queries);
    case 'remove_query':
      return describeRemoved('query', change.query, before.queries);
    case 'put_report':
      return describePut('report', change.report, before.reports);
    case 'remove_report':
      return describeRemoved('report', change.report, before.reports);
    case 'put_dashboard':
      return describePut('dashboard', change.dashboard, before.dashboards);
    case 'remove_dashboard':
      return describeRemoved('dashboard', change.dashboard, before.dashboards);
    case 'put_route':
      return describePut('route', change.route, before.routes);
    case 'remove_route':
      return describeRemoved('route', change.route, before.routes);
    case 'put_automation':
      return describePut('automation', change.automation, before.automations);
    case 'remove_automation':
      return describeRemoved('automation', change.automation, before.automations);
    case 'put_role':
      return describePut('role', change.role, before.roles);
    case 'remove_role':
      return describeRemoved('role', change.role, before.roles);
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

interface Named {
  readonly id: string;
  readonly name: string;
}

function describePut(what: string, part: Named, before: readonly Named[]): string {
  const old = before.find((one) => one.id === part.id);
  if (old === undefined) return `Added the ${what} ${part.name}`;
  return old.name === part.name ? `Changed the ${what} ${old.name}` : `Renamed the ${what} ${old.name} to ${part.name}`;
}

const describeRemoved = (what: string, id: string, before: readonly Named[]): string =>
  `Removed the ${what} ${before.find((one) => one.id === id)?.name ?? ''}`;
