/** Whether what someone is shown of sums, figures and formulas is made of everything, or only of what they can see. */
import type { AppDesign, Table } from '../design/design.js';
import { check } from '../expression/check.js';
import type { Node } from '../expression/node.js';
import { throughFormulas } from '../expression/rename.js';
import { sightOf, type Person } from './access.js';

/** `none`: they see none of the records that it is about. */
export type PartSeen = 'all' | 'part' | 'none';

/** How much of what these expressions read a person sees; `table` is what the rows are records of. */
export function partSeen(design: AppDesign, person: Person, table: string, nodes: readonly Node[]): PartSeen {
  const own = sightOf(design, person, table, 'see');
  if (own.kind === 'granted' && own.grants.length === 0) return 'none';
  const used = new Map<string, Set<string>>([[table, new Set()]]);
  const use = (of: string, field?: string): void => {
    const fields = used.get(of) ?? new Set();
    if (field !== undefined) fields.add(field);
    used.set(of, fields);
  };
  for (const node of nodes)
    for (const each of throughFormulas(node)) {
      if (each.kind === 'children') use(each.relationship.child);
      if (each.kind === 'parent') use(each.table);
      if ((each.kind === 'field' || each.kind === 'parent' || each.kind === 'formula') && each.of.type.kind === 'record')
        use(each.of.type.table, each.field.id);
    }
  return [...used].every(([of, fields]) => seesWhole(design, person, of, fields)) ? 'all' : 'part';
}

/** Whether grants without a condition show every record, and each of the fields in all of them. */
function seesWhole(design: AppDesign, person: Person, table: string, fields: ReadonlySet<string>): boolean {
  const sight = sightOf(design, person, table, 'see');
  if (sight.kind === 'all') return true;
  const open = sight.grants.filter((grant) => grant.condition === null);
  return open.length > 0 && [...fields].every((field) => open.some((grant) => !grant.withheld.has(field)));
}

/** The formulas of a table whose values count only what the person can see. */
export const partFormulas = (design: AppDesign, person: Person, table: Table): readonly string[] =>
  person.role === 'builder'
    ? []
    : table.fields.flatMap((field) => {
        if (field.kind !== 'formula') return [];
        const checked = check(field.expression, { design, table: table.id });
        return checked.ok && sumsUp(checked.node) && partSeen(design, person, table.id, [checked.node]) === 'part' ? [field.id] : [];
      });

/** Only lists of children can be seen in part: a parent is seen, or its values are empty. */
const sumsUp = (node: Node): boolean => [...throughFormulas(node)].some((formula) => formula.kind === 'children');
