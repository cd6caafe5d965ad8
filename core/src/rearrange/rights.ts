/** Who sees and changes values where they go: nobody more than before, and everybody else is told. */
import type { AppDesign, Field, Role } from '../design/design.js';
import type { DesignChange } from '../parts/design-change.js';
import type { MigrationStep } from '../migration/migration.js';
import { listed, toldStep } from './tools.js';
import type { Carried } from './plans.js';

/** Whether a role sees a field of every record of a table, and whether it can change it. */
export function reachOf(role: Role, table: string, field: string): { readonly sees: boolean; readonly changes: boolean } {
  if (role.everything) return { sees: true, changes: true };
  const all = role.grants.filter((grant) => grant.table === table && grant.see && grant.condition === '' && !grant.hidden.includes(field));
  return { sees: all.length > 0, changes: all.some((grant) => (grant.add || grant.change) && !grant.locked.includes(field)) };
}

/** Hides and locks fields in the grants of the table where they go, as they were where they came from. */
export const rightsWhereTheyGo = (design: AppDesign, from: string, to: string, carried: readonly Carried[]): readonly DesignChange[] =>
  design.roles.flatMap((role): DesignChange[] => {
    if (role.everything || !role.grants.some((grant) => grant.table === to)) return [];
    const reach = carried.map((each) => ({ to: each.to, ...reachOf(role, from, each.field) }));
    const [hidden, locked] = [reach.filter((each) => !each.sees), reach.filter((each) => each.sees && !each.changes)].map((all) => all.map((each) => each.to));
    const grants = role.grants.map((grant) =>
      grant.table === to ? { ...grant, hidden: [...grant.hidden, ...(hidden ?? [])], locked: [...grant.locked, ...(locked ?? [])] } : grant,
    );
    return [{ kind: 'put', part: 'role', value: { ...role, grants } }];
  });

/** Says which roles no longer see fields that they saw, because they don't see the table where these are now. */
export function whoSeesLess(before: AppDesign, between: AppDesign, from: string, to: string, fields: readonly Field[]): readonly MigrationStep[] {
  const of = (id: string): string => between.tables.find((table) => table.id === id)?.name ?? '';
  return between.roles.flatMap((role) => {
    const was = before.roles.find((each) => each.id === role.id);
    const saw = fields.filter((field) => was?.grants.some((grant) => grant.table === from && grant.see && !grant.hidden.includes(field.id)) === true);
    if (role.everything || saw.length === 0 || role.grants.some((grant) => grant.table === to && grant.see)) return [];
    return [
      toldStep(
        `The role ${role.name} can't see ${of(to)}, and no longer sees ${listed(saw.map((field) => field.name))} of ${of(from)}. Grant it to see ${of(to)} under Permissions if it should.`,
      ),
    ];
  });
}

/** Says of which fields new records no longer begin with a value. */
export const whatBeginsEmpty = (table: string, fields: readonly Field[]): readonly MigrationStep[] => {
  const begun = fields.filter((field) => field.default !== null).map((field) => field.name);
  return begun.length === 0 ? [] : [toldStep(`New records of ${table} no longer begin with a ${listed(begun)}.`)];
};
