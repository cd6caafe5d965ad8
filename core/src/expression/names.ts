/** What can be named over the records of a table, and how each of it is called. */
import type { AppDesign, Table, TableId } from '../design/design.js';
import { tableOf } from '../design/read.js';
import { feelName, hasMark, key, nameSet, type NameSet } from '../feel/names.js';

/** What stands behind a dot, or by itself, over the records of a table. */
export type Member =
  | { readonly kind: 'field'; readonly name: string; readonly field: Table['fields'][number] }
  | { readonly kind: 'children'; readonly name: string; readonly relationship: AppDesign['relationships'][number] };

const lookupCache = new WeakMap<readonly Member[], ReadonlyMap<string, Member>>();
/** The member that a name as it is read (see `key`) means. */
export function memberCalled(design: AppDesign, table: TableId, name: string): Member | undefined {
  const members = membersOf(design, table);
  let lookup = lookupCache.get(members);
  if (lookup === undefined) lookupCache.set(members, (lookup = new Map(members.map((one) => [key(one.name), one]))));
  return lookup.get(name);
}

const memberCache = new WeakMap<AppDesign, Map<TableId, readonly Member[]>>();

/**
 * What can be named over records of a table. Where two labels give the same name, each is called by its column, which
 * is unique; so a name never means one of two things.
 */
export function membersOf(design: AppDesign, table: TableId): readonly Member[] {
  let tables = memberCache.get(design);
  if (tables === undefined) memberCache.set(design, (tables = new Map<TableId, readonly Member[]>()));
  let members = tables.get(table);
  if (members === undefined) tables.set(table, (members = namedMembers(design, tableOf(design, table))));
  return members;
}

function namedMembers(design: AppDesign, table: Table): readonly Member[] {
  const wanted: Member[] = [
    ...table.fields.map((field): Member => ({ kind: 'field', name: feelName(field.name), field })),
    ...design.relationships
      .filter((one) => one.parent === table.id)
      .map((relationship): Member => ({ kind: 'children', name: feelName(relationship.childrenName), relationship })),
  ];
  const times = new Map<string, number>();
  for (const { name } of wanted) times.set(key(name), (times.get(key(name)) ?? 0) + 1);
  const named = wanted.map((one): Member => (one.name !== '' && times.get(key(one.name)) === 1 ? one : { ...one, name: plainName(design, one) }));
  const used = new Set<string>();
  return named.map((one) => {
    let name = one.name;
    for (let n = 2; used.has(key(name)); n += 1) name = `${one.name}_${n}`;
    used.add(key(name));
    return name === one.name ? one : { ...one, name };
  });
}

function plainName(design: AppDesign, member: Member): string {
  if (member.kind === 'field') return member.field.column;
  const child = tableOf(design, member.relationship.child);
  const field = child.fields.find((one) => one.id === member.relationship.field);
  return `${child.slug}_by_${field?.column ?? 'reference'}`;
}

const setCache = new WeakMap<AppDesign, Map<string, NameSet>>();
/**
 * The names known while an expression over `table` is read. A name with a mark in it, such as Sale-price, can be meant as
 * a difference where it is not the table's own: in the `narrow` reading only the table's own names may have marks.
 */
export function knownNames(design: AppDesign, table: TableId | null, others: readonly string[], narrow = false): NameSet {
  let sets = setCache.get(design);
  if (sets === undefined) setCache.set(design, (sets = new Map<string, NameSet>()));
  const place = narrow ? (table ?? '') : '*';
  let set = sets.get(place);
  if (set === undefined) {
    const names = design.tables.flatMap((one) =>
      membersOf(design, one.id)
        .map((member) => member.name)
        .filter((name) => !narrow || one.id === table || !hasMark(name)),
    );
    const ties = design.ties.map((tie) => feelName(tie.name));
    sets.set(place, (set = nameSet([...names, ...ties, ...others])));
  }
  return set;
}
