/** Whether a design is whole: names and ids are unique, everything that is named is there, every expression can be read. */
import type { AppDesign } from '../design/design.js';
import { check } from '../expression/check.js';
import { expressionsOf } from './expressions.js';
import type { DesignIssue } from './issues.js';
import { partKind, partNames, partsOf } from './kinds.js';
import type { ExpressionPlace, Reference, TargetName, UncheckedDesign } from './part.js';
import { atOnce, pieceOfParts, type Pieces } from './pieces.js';
import { folded, repeated } from './repeated.js';

/** Finds what references lead to: every part by its kind and id, and of each field its table. */
class Targets {
  private constructor(private readonly ids: ReadonlyMap<TargetName, ReadonlyMap<string, string>>) {}

  static *inPieces(design: UncheckedDesign): Pieces<Targets> {
    const ids = new Map<TargetName, ReadonlyMap<string, string>>();
    for (const name of partNames) ids.set(name, new Map(partsOf(design, name).map((part) => [part.id, ''])));
    const fields = new Map<string, string>();
    for (const [i, table] of design.tables.entries()) {
      if (i % pieceOfParts === 0) yield;
      for (const field of table.fields) fields.set(field.id, table.id);
    }
    ids.set('field', fields);
    return new Targets(ids);
  }
  has({ to, id, table }: Reference): boolean {
    const found = this.ids.get(to)?.get(id);
    return found !== undefined && (table === undefined || found === table);
  }
}

const again = (parts: readonly { readonly id: string }[]): readonly DesignIssue[] =>
  repeated(parts, (part) => part.id).map(({ id }) => ({ code: 'id_taken', id }));

/** Checks what Zod's shapes cannot, besides expressions: that names are unique and references lead somewhere. */
export const structureIssues = (design: UncheckedDesign): readonly DesignIssue[] => atOnce(structureInPieces(design));
export function* structureInPieces(design: UncheckedDesign): Pieces<readonly DesignIssue[]> {
  const issues: DesignIssue[] = [];
  const targets = yield* Targets.inPieces(design);
  const ids: { readonly id: string }[] = [];
  for (const name of partNames) {
    const kind = partKind(name);
    const parts = partsOf(design, name);
    if (kind.uniqueWithin !== null)
      for (const part of repeated(parts, (anyPart) => `${kind.uniqueWithin?.(anyPart) ?? ''} ${folded(anyPart.name ?? '')}`)) {
        const within = design.tables.find((table) => table.id === kind.uniqueWithin?.(part))?.name ?? design.name;
        issues.push({ code: 'name_taken', what: name, name: part.name ?? '', within });
      }
    const within: { readonly id: string }[] = kind.innerIds === 'design' ? ids : [];
    for (const [i, part] of parts.entries()) {
      if (i % pieceOfParts === 0) yield;
      ids.push(part);
      const inner = kind.inner(part);
      if (kind.innerIds === 'part') issues.push(...again(inner));
      else within.push(...inner);
      for (const reference of kind.references(part, design))
        if (!targets.has(reference)) issues.push({ code: 'unknown', what: reference.to, id: reference.id });
      issues.push(...kind.issues(part, design));
    }
    if (kind.innerIds === 'kind') issues.push(...again(within));
  }
  yield;
  issues.push(...again(ids));
  for (const table of repeated(design.tables, (each) => each.slug))
    issues.push({ code: 'broken', problem: `Two tables share the name ${table.slug} in the database` });
  return issues;
}

/** Expressions that cannot be read. `asks` tells which are read at all: after a change those that it can touch. */
export const expressionIssues = (design: AppDesign): readonly DesignIssue[] => atOnce(expressionsInPieces(design, () => true));
export function* expressionsInPieces(design: AppDesign, asks: (place: ExpressionPlace) => boolean): Pieces<readonly DesignIssue[]> {
  const issues: DesignIssue[] = [];
  for (const [i, place] of expressionsOf(design).entries()) {
    if (i % pieceOfParts === 0) yield;
    if (!asks(place)) continue;
    const checked = check(place.text, { design, table: place.table }, place.wanted);
    if (!checked.ok) issues.push({ code: 'expression', place: place.label, owner: place.owner.id, problem: checked.problems[0]?.message ?? '' });
  }
  return issues;
}
