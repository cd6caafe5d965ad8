/** What is doubtful about the grants of a design: values that can be found out by trial, records that nobody can add. */
import type { AppDesign, Check, Field, Role, Table } from '../design/design.js';
import { throughFormulas } from '../expression/rename.js';
import { routeOf } from '../routes/route.js';
import { checksOf } from '../checks/checks.js';

export type AccessFinding =
  /** A check reads a field that the role does not see but can provoke: whether it is met tells of the value. */
  | { readonly kind: 'check_tells'; readonly role: Role; readonly table: Table; readonly check: Check; readonly field: Field }
  /** Each grant to add keeps a required field from the role that has no default value. */
  | { readonly kind: 'cannot_add'; readonly role: Role; readonly table: Table; readonly field: Field };

export const accessFindings = (design: AppDesign): readonly AccessFinding[] =>
  design.roles
    .filter((role) => !role.everything)
    .flatMap((role) => design.tables.flatMap((table) => [...tellingChecks(design, role, table), ...requiredButKept(design, role, table)]));

/** Whether some grant of the role shows a field of a table. */
function sees(role: Role, table: string, field: string): boolean {
  return role.grants.some((grant) => grant.table === table && grant.see && !grant.hidden.includes(field));
}

function tellingChecks(design: AppDesign, role: Role, table: Table): readonly AccessFinding[] {
  if (!role.grants.some((grant) => grant.table === table.id && (grant.add || grant.change))) return [];
  return checksOf(design, table).flatMap(({ check, node }) => {
    const read = [...throughFormulas(node)].flatMap((formula) =>
      (formula.kind === 'field' || formula.kind === 'parent') && formula.of.type.kind === 'record'
        ? [{ table: formula.of.type.table, field: formula.field }]
        : [],
    );
    const hidden = read.find((each) => !sees(role, each.table, each.field.id));
    return hidden === undefined ? [] : [{ kind: 'check_tells', role, table, check, field: hidden.field } as const];
  });
}

function requiredButKept(design: AppDesign, role: Role, table: Table): readonly AccessFinding[] {
  const adding = role.grants.filter((grant) => grant.table === table.id && grant.add);
  if (adding.length === 0) return [];
  // A new record starts at the first status of its route, no matter who adds it.
  const started = routeOf(design, table.id)?.field;
  const withheld = table.fields.find(
    (field) =>
      field.required &&
      field.default === null &&
      field.id !== started &&
      adding.every((grant) => grant.hidden.includes(field.id) || grant.locked.includes(field.id)),
  );
  return withheld === undefined ? [] : [{ kind: 'cannot_add', role, table, field: withheld }];
}
