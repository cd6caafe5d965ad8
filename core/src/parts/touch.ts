/**
 * Which expressions a change of a design can touch. A name is only ever meant where it is written, so only texts with the
 * name of something that is new, gone or different have to be read again: in an app of 1,200 formulas these are a few.
 */
import type { AppDesign, Relationship, Table, TableId } from '../design/design.js';
import { namesFor } from '../expression/check.js';
import { membersOf, type Member } from '../expression/names.js';
import { feelName } from '../feel/names.js';
import { everyPart, type AnyPart } from './kinds.js';
import type { ExpressionPlace, UncheckedDesign } from './part.js';
import { atOnce, type Pieces } from './pieces.js';

export interface Touch {
  /** Whether an expression over a table, or over none, names anything that the change touches. */
  readonly canTouch: (text: string, table: TableId | null) => boolean;
  /** Whether an expression of the changed design has to be read again: the change touches what it names, or its own place. */
  readonly asks: (place: ExpressionPlace) => boolean;
}

// Names are compared without blanks: `a-b` and `a - b` are one name, and a text can break inside of it.
const plain = (text: string): string => text.replace(/\s+/gu, '');

const identity = (member: Member): unknown => (member.kind === 'field' ? member.field : member.relationship);

/** The names of a table's members that are not the same members in both designs. */
function namesChanged(before: AppDesign, after: AppDesign, table: TableId): readonly string[] {
  const of = (design: AppDesign): readonly Member[] => (design.tables.some((each) => each.id === table) ? membersOf(design, table) : []);
  const [old, now] = [of(before), of(after)];
  if (old === now) return [];
  const was = new Map(old.map((member) => [member.name, identity(member)]));
  const is = new Map(now.map((member) => [member.name, identity(member)]));
  return [...new Set([...was.keys(), ...is.keys()])].filter((name) => was.get(name) !== is.get(name));
}

/** The names by which an expression comes to a table from elsewhere: references, children and links of people to records. */
function entrances(designs: readonly AppDesign[], table: TableId): readonly string[] {
  const memberNames = (design: AppDesign, relationship: Relationship): readonly string[] => {
    const from = relationship.parent === table ? relationship.child : relationship.parent;
    return design.tables.some((each) => each.id === from)
      ? membersOf(design, from)
          .filter((member) => (member.kind === 'field' ? member.field.id === relationship.field : member.relationship.id === relationship.id))
          .map((member) => member.name)
      : [];
  };
  return designs.flatMap((design) => [
    ...design.relationships
      .filter((relationship) => relationship.parent === table || relationship.child === table)
      .flatMap((relationship) => memberNames(design, relationship)),
    ...design.ties.filter((ty) => ty.table === table).map((ty) => feelName(ty.name)),
  ]);
}

/** Which tables are next to each other over a relationship of any of the designs. */
function neighboursIn(designs: readonly AppDesign[]): ReadonlyMap<TableId, ReadonlySet<TableId>> {
  const near = new Map<TableId, Set<TableId>>();
  const add = (a: TableId, b: TableId): unknown => near.set(a, (near.get(a) ?? new Set()).add(b));
  for (const { parent, child } of designs.flatMap((design) => design.relationships)) {
    add(parent, child);
    add(child, parent);
  }
  return near;
}

/** The tables from which a walk over relationships can come to a table, itself among them; null: from all, over a link of the person. */
function walkedFrom(designs: readonly AppDesign[], table: TableId, near: ReadonlyMap<TableId, ReadonlySet<TableId>>): ReadonlySet<TableId> | null {
  const found = new Set([table]);
  for (const each of found) for (const next of near.get(each) ?? []) found.add(next);
  return designs.some((design) => design.ties.some((tie) => found.has(tie.table))) ? null : found;
}

/** Names of several words that are new or gone: they can change how any text is read. */
function wordsChanged(before: AppDesign, after: AppDesign): readonly string[] {
  const [was, is] = [namesFor({ design: before, table: null }).keys, namesFor({ design: after, table: null }).keys];
  return was === is ? [] : [...[...was].filter((name) => !is.has(name)), ...[...is].filter((name) => !was.has(name))];
}

interface NamedFormula {
  readonly table: TableId;
  readonly name: string;
  /** Without blanks. */
  readonly text: string;
}
// A table that a change leaves alone stays the same object, so its formulas are found only once.
const formulaCache = new WeakMap<Table, readonly NamedFormula[]>();
function formulasOf(table: Table): readonly NamedFormula[] {
  let found = formulaCache.get(table);
  if (found === undefined) {
    found = table.fields.flatMap((field) => (field.kind === 'formula' ? [{ table: table.id, name: feelName(field.name), text: plain(field.expression) }] : []));
    formulaCache.set(table, found);
  }
  return found;
}

export const touchOf = (before: AppDesign, after: UncheckedDesign): Touch => atOnce(touchInPieces(before, after));
export function* touchInPieces(before: AppDesign, unchecked: UncheckedDesign): Pieces<Touch> {
  const after = unchecked as AppDesign;
  const anywhere = new Set(wordsChanged(before, after).map(plain));
  if (before.ties !== after.ties)
    for (const tie of [...before.ties, ...after.ties]) if (!before.ties.includes(tie) || !after.ties.includes(tie)) anywhere.add(plain(feelName(tie.name)));
  yield;
  const inTable = new Map<TableId, Set<string>>();
  const doors = new Map<TableId, { readonly names: readonly string[]; readonly from: ReadonlySet<TableId> | null }>();
  let near: ReturnType<typeof neighboursIn> | undefined;
  const note = (table: TableId, name: string): void => {
    const names = inTable.get(table) ?? new Set<string>();
    inTable.set(table, names);
    if (name !== '') names.add(plain(name));
    if (!doors.has(table))
      doors.set(table, {
        names: entrances([before, after], table).map(plain),
        from: walkedFrom([before, after], table, (near ??= neighboursIn([before, after]))),
      });
  };
  const [oldTables, newTables] = [new Map(before.tables.map((table) => [table.id, table])), new Map(after.tables.map((table) => [table.id, table]))];
  const parents = new Set(
    before.relationships === after.relationships ? [] : [...before.relationships, ...after.relationships].map((relationship) => relationship.parent),
  );
  for (const id of new Set([...oldTables.keys(), ...newTables.keys()]))
    if (oldTables.get(id) !== newTables.get(id) || parents.has(id)) for (const name of namesChanged(before, after, id)) note(id, name);
  yield;

  const includesOne = (text: string, names: Iterable<string>): boolean => {
    for (const name of names) if (text.includes(name)) return true;
    return false;
  };
  const mentions = (text: string, table: TableId | null): boolean => {
    if (includesOne(text, anywhere)) return true;
    for (const [id, names] of inTable) {
      const door = doors.get(id);
      const canCome = id === table || (door !== undefined && (door.from === null || (table !== null && door.from.has(table))) && includesOne(text, door.names));
      if (canCome && includesOne(text, names)) return true;
    }
    return false;
  };
  const isNothing = (): boolean => anywhere.size === 0 && inTable.size === 0;
  // A formula that names one of them can give something else now: then those that name the formula are touched too.
  if (!isNothing()) {
    let waiting = after.tables.flatMap(formulasOf);
    for (let found = true; found;) {
      yield;
      const touched = waiting.filter((each) => mentions(each.text, each.table));
      waiting = waiting.filter((each) => !touched.includes(each));
      for (const each of touched) note(each.table, each.name);
      found = touched.length > 0;
    }
  }
  const canTouch = (text: string, table: TableId | null): boolean => !isNothing() && mentions(plain(text), table);
  yield;
  const same = new Set<AnyPart>([...everyPart(before)].map(([, part]) => part));
  const changed = new Set([...everyPart(after)].filter(([, part]) => !same.has(part)).map(([, part]) => part.id));
  for (const table of after.tables) {
    if (!changed.has(table.id)) continue;
    const old = new Set(oldTables.get(table.id)?.fields);
    for (const field of table.fields) if (!old.has(field)) changed.add(field.id);
  }
  return { canTouch, asks: (place) => changed.has(place.owner.id) || canTouch(place.text, place.table) };
}
