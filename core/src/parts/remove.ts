/** Removing a part: what else goes with it, what stays without it, and what refuses. */
import { partLists } from '../design/design.js';
import type { DesignIssue } from './issues.js';
import { partKind, partNames, partsOf, withList, type AnyPart } from './kinds.js';
import type { Gone, Refuses, TargetName, UncheckedDesign } from './part.js';
import type { PartName } from '../design/design.js';

export type Removal<D> = { readonly ok: true; readonly design: D } | { readonly ok: false; readonly issue: DesignIssue };

const refuses = (left: AnyPart | 'remove' | Refuses): left is Refuses => left !== 'remove' && 'by' in left;

/**
 * The design without a part, or without a field of a table, and without all that goes along: going on until nothing is left
 * that names what is gone.
 */
export function removed<D extends UncheckedDesign>(design: D, to: TargetName, id: string): Removal<D> {
  const asked = `${to} ${id}`;
  const all = new Set([asked]);
  const gone: Gone = { has: (name, each) => all.has(`${name} ${each}`), isAsked: (name, each) => `${name} ${each}` === asked };
  /** Fields that a table has lost with the rest of it. */
  const note = (name: PartName, before: AnyPart, after: AnyPart | null): void => {
    if (after === null) all.add(`${name} ${before.id}`);
    const left = new Set(
      after === null
        ? []
        : partKind(name)
            .inner(after)
            .map((each) => each.id),
    );
    for (const each of partKind(name).inner(before)) if (each.is !== undefined && !left.has(each.id)) all.add(`${each.is} ${each.id}`);
  };
  if (to !== 'field') for (const part of partsOf(design, to)) if (part.id === id) note(to, part, null);
  let now = design;
  for (let size = -1; size !== all.size;) {
    size = all.size;
    for (const name of partNames) {
      const kind = partKind(name);
      const parts: AnyPart[] = [];
      for (const part of partsOf(now, name)) {
        if (gone.has(name, part.id)) continue;
        const left = kind.without(part, gone);
        if (refuses(left)) return { ok: false, issue: { code: 'in_use', what: to, by: left.by } };
        if (left !== part) note(name, part, left === 'remove' ? null : left);
        if (left !== 'remove') parts.push(left);
      }
      const before = partsOf(now, name);
      if (parts.length !== before.length || parts.some((part, i) => part !== before[i])) now = withList(now, partLists[name].key, parts);
    }
  }
  return { ok: true, design: now };
}

/** The design with the part at its old place, or at the end when it is new. */
export function withPart<D extends UncheckedDesign>(design: D, name: PartName, part: AnyPart): D {
  const parts = partsOf(design, name);
  const isNew = !parts.some((anyPart) => anyPart.id === part.id);
  return withList(design, partLists[name].key, isNew ? [...parts, part] : parts.map((anyPart) => (anyPart.id === part.id ? part : anyPart)));
}

export const findPart = (design: UncheckedDesign, name: PartName, id: string): AnyPart | undefined => partsOf(design, name).find((part) => part.id === id);
