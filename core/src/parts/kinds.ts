/** All kinds of part of a design. A new kind is a file beside this one, its shape and its list in `design`, and a row here. */
import { partLists } from '../design/design.js';
import { automation } from './automation.js';
import { dashboard } from './dashboard.js';
import { note, section } from './diagram.js';
import { form } from './form.js';
import { list } from './list.js';
import type { PartKind, UncheckedDesign } from './part.js';
import type { PartKey, PartName } from '../design/design.js';
import { query } from './query.js';
import { relationship } from './relationship.js';
import { report } from './report.js';
import { role } from './role.js';
import { route } from './route.js';
import { table } from './table.js';
import { tie } from './tie.js';

const partKinds = { table, relationship, form, list, query, report, dashboard, route, automation, role, tie, section, note } satisfies Record<
  PartName,
  unknown
>;

/** A part as the tables of parts see it, of any kind. */
export interface AnyPart {
  readonly id: string;
  readonly name?: string;
}

export const partNames = Object.keys(partKinds) as readonly PartName[];

/** The kind of that name, for parts of which only the name of the kind is known. */
export const partKind = (name: PartName): PartKind<AnyPart> => partKinds[name] as unknown as PartKind<AnyPart>;

/** What a part is called in sentences. */
export const calledOf = (name: PartName, part: AnyPart): string => partKind(name).called?.(part) ?? part.name ?? '';

export const partsOf = (design: UncheckedDesign, name: PartName): readonly AnyPart[] => design[partLists[name].key];

/** The design with another list of parts of one kind. */
export const withList = <D extends UncheckedDesign>(design: D, key: PartKey, parts: readonly AnyPart[]): D =>
  (design[key] as readonly AnyPart[]) === parts ? design : { ...design, [key]: parts };

/** Every part of a design with its kind. */
export function* everyPart(design: UncheckedDesign): Generator<readonly [name: PartName, part: AnyPart]> {
  for (const name of partNames) for (const part of partsOf(design, name)) yield [name, part];
}
