/** Every place of a design with an expression: what checks, renames and searches them goes through the kinds of part. */
import { partLists } from '../design/design.js';
import type { AppDesign, Field, Table } from '../design/design.js';
import { check } from '../expression/check.js';
import { dependenciesOf, renamed, renamedLabel, replaced } from '../expression/rename.js';
import type { Scope } from '../expression/scope.js';
import type { Type } from '../feel/types.js';
import { kindOf } from '../fields/kinds.js';
import { everyPart, partKind, partNames, partsOf, withList, type AnyPart } from './kinds.js';
import { mapped, type ExpressionPlace } from './part.js';
import type { PartName } from '../design/design.js';
import { atOnce, pieceOfParts, type Pieces } from './pieces.js';
import type { Touch } from './touch.js';
import { wants } from '../feel/wants.js';

// A part that a change leaves alone stays the same object, so its places are found only once.
const known = new WeakMap<AnyPart, readonly ExpressionPlace[]>();

/** The places of one part. */
export function expressionsIn(name: PartName, part: AnyPart, design: AppDesign): readonly ExpressionPlace[] {
  const kind = partKind(name);
  const found = kind.expressionsReadOthers ? undefined : known.get(part);
  if (found !== undefined) return found;
  const places: ExpressionPlace[] = [];
  kind.expressions(part, design, (place) => {
    places.push(place);
    return place.text;
  });
  if (!kind.expressionsReadOthers) known.set(part, places);
  return places;
}

export const expressionsOf = (design: AppDesign): readonly ExpressionPlace[] =>
  [...everyPart(design)].flatMap(([name, part]) => expressionsIn(name, part, design));

/**
 * The design with every expression as it has to be written after a change, given what it was before. Only what was there
 * before is rewritten: what the change itself brings names things as they are called after it.
 * @param asks whether an expression over a table can name anything that has another name now
 */
export const withRenamed = (before: AppDesign, after: AppDesign, asks: Touch['canTouch']): AppDesign => atOnce(renamedInPieces(before, after, asks));
export function* renamedInPieces(before: AppDesign, after: AppDesign, asks: Touch['canTouch']): Pieces<AppDesign> {
  const tables = new Set(before.tables.map((table) => table.id));
  const again = ({ text, table, fills }: ExpressionPlace): string => {
    if (table !== null && !tables.has(table)) return text;
    const now = asks(text, table) ? renamed(text, { design: before, table } satisfies Scope, after) : text;
    return fills === undefined ? now : renamedLabel(now, fills, before, after);
  };
  const inPart = (design: AppDesign, name: PartName, part: AnyPart, old: AnyPart | undefined): AnyPart => {
    if (old === undefined) return part;
    const places = expressionsIn(name, old, before);
    if (!places.some((place) => place.fills !== undefined || asks(place.text, place.table))) return part;
    const texts = new Map(places.map((place) => [place.key, place.text]));
    return partKind(name).expressions(part, design, (place) => (texts.get(place.key) === place.text ? again(place) : place.text));
  };
  let design = after;
  for (const name of partNames) {
    const olds = new Map(partsOf(before, name).map((part) => [part.id, part]));
    const parts = partsOf(design, name);
    const renamedParts: AnyPart[] = [];
    for (const [i, part] of parts.entries()) {
      if (i % pieceOfParts === 0) yield;
      renamedParts.push(inPart(design, name, part, olds.get(part.id)));
    }
    design = withList(
      design,
      partLists[name].key,
      mapped(parts, (part, i) => renamedParts[i] ?? part),
    );
  }
  return design;
}

/** The design with every expression as `replaced` writes it, as it is read in the design `before`. */
export function withReplaced(before: AppDesign, after: AppDesign, puts: ReadonlyMap<string, string>): AppDesign {
  const again = ({ text, table }: ExpressionPlace): string => replaced(text, { design: before, table }, puts);
  return partNames.reduce(
    (design, name) =>
      withList(
        design,
        partLists[name].key,
        mapped(partsOf(design, name), (part) => partKind(name).expressions(part, design, again)),
      ),
    after,
  );
}

/** The type of the values of a field, formulas included; null when its formula cannot be read, or it is a reference. */
export function typeOfField(design: AppDesign, table: string, field: Field): Type | null {
  if (field.kind === 'reference') return null;
  if (field.kind !== 'formula') return kindOf(field).feel.type(field, table);
  const checked = check(field.expression, { design, table });
  return checked.ok ? checked.node.type : null;
}

/** The fields of a table by which its caption calls a record. */
export function captionFields(design: AppDesign, table: Table): readonly Field[] {
  const checked = check(table.caption, { design, table: table.id }, wants.anything);
  if (!checked.ok) return [];
  const named = dependenciesOf(checked.node).map((dependency) => dependency.id);
  return table.fields.filter((field) => named.includes(field.id));
}

/** Whether values of the field are at the right, one above the other: numbers, those of formulas among them. */
export const isAlignedRight = (design: AppDesign, table: Table, field: Field): boolean =>
  field.kind === 'formula' ? typeOfField(design, table.id, field)?.kind === 'number' : kindOf(field).traits.align === 'right';

/** The places whose expressions name a field or a relationship, by its id: what renaming it rewrites. */
export const usesOf = (design: AppDesign, id: string): readonly ExpressionPlace[] =>
  expressionsOf(design).filter((place) => {
    const checked = check(place.text, { design, table: place.table }, wants.anything);
    return checked.ok && dependenciesOf(checked.node).some((dependency) => dependency.id === id);
  });
