/** The checks of a table: which have to be asked again when records are written, which can be told without the server, and where. */
import type { AppDesign, Check, Relationship, Table } from '../design/design.js';
import { tableOf } from '../design/read.js';
import { check } from '../expression/check.js';
import { wants } from '../feel/wants.js';
import type { Node } from '../expression/node.js';
import { dependenciesOf, readBy, throughFormulas } from '../expression/rename.js';
import { tablesRead } from '../expression/tables-read.js';

export interface AskedCheck {
  readonly check: Check;
  readonly node: Node;
}

/** The checks of a table with their checked conditions. */
export function checksOf(design: AppDesign, table: Table): readonly AskedCheck[] {
  return table.checks.flatMap((each) => {
    const checked = check(each.condition, { design, table: table.id }, wants.truth);
    return checked.ok ? [{ check: each, node: checked.node }] : [];
  });
}

/** Those of a table that its own fields decide, as far as this design knows them: what a form can tell before anything is saved. */
export const checksOfRecordAlone = (design: AppDesign, table: Table): readonly Check[] =>
  checksOf(design, table)
    .filter(({ node }) => tablesRead(node).size === 0)
    .map((asked) => asked.check);

/** The ids of the fields of its table that a check reads, in their order. That a record breaks it is told at the last of them that was written. */
export function fieldsRead({ node }: AskedCheck, table: Table): readonly string[] {
  const read = readBy(node);
  return table.fields.flatMap(({ id }) => (read.has(id) ? [id] : []));
}

export interface ParentChecks {
  readonly relationship: Relationship;
  readonly parent: Table;
  readonly checks: readonly AskedCheck[];
}

const looksAt = ({ node }: AskedCheck, relationship: Relationship): boolean =>
  [...throughFormulas(node)].some((formula) => dependenciesOf(formula).some((each) => each.kind === 'relationship' && each.id === relationship.id));

/** Checks of parents of a table that look at their children in it: a written child can break them. */
export function checksOfParents(design: AppDesign, child: string): readonly ParentChecks[] {
  return design.relationships
    .filter((relationship) => relationship.child === child)
    .flatMap((relationship) => {
      const parent = tableOf(design, relationship.parent);
      const checks = checksOf(design, parent).filter((each) => looksAt(each, relationship));
      return checks.length === 0 ? [] : [{ relationship, parent, checks }];
    });
}

/**
 * Relationships to parents whose children are looked at together, by a check of the parent or of the children themselves
 * (`count(Apiary.Hives) <= 3`). Two saves that each add a child see only their own: they have to take turns at the parent.
 */
export function relationshipsLookedAt(design: AppDesign, child: string): readonly Relationship[] {
  const own = checksOf(design, tableOf(design, child));
  return design.relationships.filter(
    (relationship) =>
      relationship.child === child && [...own, ...checksOf(design, tableOf(design, relationship.parent))].some((each) => looksAt(each, relationship)),
  );
}
