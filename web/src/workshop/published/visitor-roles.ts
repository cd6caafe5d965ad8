/** Roles that visitors have, where nobody has made one for them yet. */
import { grantOf, rightsOf, tableOf, visitorWith, type AppDesign, type Role } from '@bibliona/core';
import { newId } from '../../state/app.js';

export const freeRoleName = (name: string, roles: readonly Role[]): string =>
  roles.some((role) => role.name === name) ? freeRoleName(`${name} 2`, roles) : name;

/** A role that sees a table, and can do nothing anywhere: one of the app's, else a new one. @param of what it is made for */
export function seeingRole(design: AppDesign, table: string, of: string): Role {
  const isRight = (role: Role): boolean =>
    !role.everything &&
    role.grants.every((grant) => !grant.add && !grant.change && !grant.remove) &&
    rightsOf(design, visitorWith(role.id), tableOf(design, table)).see;
  const { name } = tableOf(design, table);
  return (
    design.roles.find(isRight) ?? {
      id: newId('ro'),
      name: freeRoleName(`Visitors of ${of}`, design.roles),
      description: `Sees ${name} where it is published, and changes nothing.`,
      everything: false,
      grants: [grantOf(newId('gr'), table, { see: true })],
      menu: [],
    }
  );
}
