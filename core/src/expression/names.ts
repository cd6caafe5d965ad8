/** What can be named over the records of a table, and how each of it is called. */
import type { AppDesign, Table, TableId } from '../design/design.js';
import { tableOf } from '../design/read.js';
import { feelName, hasMark, key, nameSet, type NameSet } from '../feel/names.js';

type Relationship = AppDesign['relationships'][number];

/** What is behind a dot, or by itself, over the records of a table. */
export type Member =
  | { readonly kind: 'field'; readonly name: string; readonly field: Table['fields'][number] }
  | { readonly kind: 'children'; readonly name: string; readonly relationship: AppDesign['relationships'][number] };

const lookupCache = new WeakMap<readonly Member[], ReadonlyMap<string, Member>>();
/** The member that a name as it is read (see `key`) means. */
export function memberCalled(design: AppDesign, table: TableId, name: string): Member | undefined {
  const members = membersOf(design, table);
  let lookup = lookupCache.get(members);
  if (lookup === undefined) lookupCache.set(members, (lookup = new Map(members.map((member) => [key(member.name), member]))));
  return lookup.get(name);
}

interface Known {
  readonly relationships: readonly Relationship[];
  /** The tables whose names were needed to tell members apart. */
  readonly others: readonly (Table | undefined)[];
  readonly members: readonly Member[];
}
// A table that a change leaves alone stays the same object, so its names are made only once.
const memberCache = new WeakMap<Table, Known>();
const byParent = new WeakMap<AppDesign['relationships'], ReadonlyMap<TableId, readonly Relationship[]>>();

function relationshipsOfParent(design: AppDesign, parent: TableId): readonly Relationship[] {
  let index = byParent.get(design.relationships);
  if (index === undefined) {
    const made = new Map<TableId, Relationship[]>();
    for (const relationship of design.relationships) made.set(relationship.parent, [...(made.get(relationship.parent) ?? []), relationship]);
    byParent.set(design.relationships, (index = made));
  }
  return index.get(parent) ?? [];
}

/**
 * What can be named over records of a table. Where two labels give the same name, each is called by its column, which
 * is unique; so a name never means one of two things.
 */
export function membersOf(design: AppDesign, id: TableId): readonly Member[] {
  const table = tableOf(design, id);
  const relationships = relationshipsOfParent(design, id);
  const childOf = (relationship: Relationship): Table | undefined => design.tables.find((each) => each.id === relationship.child);
  const known = memberCache.get(table);
  if (
    known !== undefined &&
    isSame(known.relationships, relationships) &&
    known.others.every((other, i) => other === childOf(relationships[i] as Relationship))
  )
    return known.members;
  const { members, isTold } = namedMembers(design, table, relationships);
  memberCache.set(table, { relationships, others: isTold ? relationships.map(childOf) : [], members });
  return members;
}

const isSame = (a: readonly unknown[], b: readonly unknown[]): boolean => a === b || (a.length === b.length && a.every((each, i) => each === b[i]));

/** `isTold`: whether names of other tables were needed. */
function namedMembers(
  design: AppDesign,
  table: Table,
  relationships: readonly Relationship[],
): { readonly members: readonly Member[]; readonly isTold: boolean } {
  const wanted: Member[] = [
    ...table.fields.map((field): Member => ({ kind: 'field', name: feelName(field.name), field })),
    ...relationships.map((relationship): Member => ({ kind: 'children', name: feelName(relationship.childrenName), relationship })),
  ];
  const times = new Map<string, number>();
  for (const { name } of wanted) times.set(key(name), (times.get(key(name)) ?? 0) + 1);
  const isClear = (member: Member): boolean => member.name !== '' && times.get(key(member.name)) === 1;
  const named = wanted.map((member): Member => (isClear(member) ? member : { ...member, name: plainName(design, member) }));
  const used = new Set<string>();
  const members = named.map((member) => {
    let name = member.name;
    for (let n = 2; used.has(key(name)); n += 1) name = `${member.name}_${n}`;
    used.add(key(name));
    return name === member.name ? member : { ...member, name };
  });
  return { members, isTold: !wanted.every(isClear) };
}

function plainName(design: AppDesign, member: Member): string {
  if (member.kind === 'field') return member.field.column;
  const child = tableOf(design, member.relationship.child);
  const field = child.fields.find((each) => each.id === member.relationship.field);
  return `${child.slug}_by_${field?.column ?? 'reference'}`;
}

const wordyCache = new WeakMap<readonly Member[], readonly string[]>();
/** The names that are made of more than one part, as they are compared: only these matter for where a name ends. */
function wordyNames(members: readonly Member[]): readonly string[] {
  const known = wordyCache.get(members);
  if (known !== undefined) return known;
  const names = members.map((member) => key(member.name)).filter((name) => name.includes(' '));
  wordyCache.set(members, names);
  return names;
}

/** The latest sets, of a few apps that are worked on at once. */
let lastSets: readonly NameSet[] = [];
const mostSets = 8;
const setCache = new WeakMap<AppDesign, Map<string, NameSet>>();
/**
 * The names known while an expression over `table` is read. A name with a mark in it, such as Sale-price, can be meant as
 * a difference where it is not the table's own: in the `narrow` reading only the table's own names can have marks.
 */
export function knownNames(design: AppDesign, table: TableId | null, others: readonly string[], narrow = false): NameSet {
  let sets = setCache.get(design);
  if (sets === undefined) setCache.set(design, (sets = new Map<string, NameSet>()));
  const setKey = narrow ? (table ?? '') : '*';
  let set = sets.get(setKey);
  if (set === undefined) {
    const names = design.tables.flatMap((each) => {
      const own = wordyNames(membersOf(design, each.id));
      return narrow && each.id !== table ? own.filter((name) => !hasMark(name)) : own;
    });
    const ties = design.ties.map((tie) => feelName(tie.name));
    const called = nameSet([...names, ...[...ties, ...others].map(key)], narrow ? [] : lastSets);
    if (!narrow) lastSets = [called, ...lastSets.filter((each) => each !== called)].slice(0, mostSets);
    set = called;
    sets.set(setKey, set);
  }
  return set;
}
