/** Where a part of a design, or a field, is named by others: in their settings and in their expressions. */
import type { AppDesign, PartName } from '../design/design.js';
import { check } from '../expression/check.js';
import { dependenciesOf } from '../expression/rename.js';
import { wants } from '../feel/wants.js';
import { expressionsIn } from './expressions.js';
import { everyPart, partKind, type AnyPart } from './kinds.js';
import type { ExpressionPlace, Reference, TargetName } from './part.js';

export interface Use {
  readonly part: PartName;
  readonly id: string;
  readonly name: string;
  /** The field whose settings name it, where it is one of a table. */
  readonly field: string | null;
  /** The expressions that name it, as sentences call them; none: it is chosen in the settings. */
  readonly places: readonly string[];
}

/** All other parts that name it, in the order of the stations. */
export function whereUsed(design: AppDesign, to: TargetName, id: string): readonly Use[] {
  const asked = askedBy(design, to, id);
  const uses: Use[] = [];
  for (const [name, part] of everyPart(design)) {
    if (name === to && part.id === id) continue;
    const places = expressionsIn(name, part, design).filter((place) => place.owner.id !== id && asked.inExpression(place));
    const of = { part: name, id: part.id, name: calledIn(design, part) };
    for (const field of new Set(places.map(fieldOwning)))
      uses.push({ ...of, field, places: places.filter((place) => fieldOwning(place) === field).map((place) => place.label) });
    if (places.length === 0 && partKind(name).references(part, design).some(asked.inSettings)) uses.push({ ...of, field: null, places: [] });
  }
  return uses;
}

/** The field in whose settings an expression is; null: it is in those of the part. */
const fieldOwning = ({ owner }: ExpressionPlace): string | null => (owner.kind === 'field' ? owner.id : null);

/** A relationship has no name of its own: it is called by what its parent calls the children. */
function calledIn(design: AppDesign, part: AnyPart): string {
  const relationship = design.relationships.find((each) => each.id === part.id);
  if (relationship === undefined) return part.name ?? '';
  return `${relationship.childrenName} of ${design.tables.find((table) => table.id === relationship.parent)?.name ?? ''}`;
}

interface Asked {
  readonly inSettings: (reference: Reference) => boolean;
  readonly inExpression: (place: ExpressionPlace) => boolean;
}

function askedBy(design: AppDesign, to: TargetName, id: string): Asked {
  // A table is used where others name a field of it, or walk to its records.
  const table = to === 'table' ? design.tables.find((each) => each.id === id) : undefined;
  const within = new Set([
    ...(table?.fields.map((field) => field.id) ?? []),
    ...(table === undefined
      ? []
      : design.relationships.flatMap((relationship) =>
          relationship.parent === id ? [relationship.field] : relationship.child === id ? [relationship.id] : [],
        )),
  ]);
  return {
    inSettings: (reference) => reference.to === to && reference.id === id,
    inExpression: ({ text, table: of }) => {
      if (text === '' || (of === id && table !== undefined)) return false;
      const checked = check(text, { design, table: of }, wants.anything);
      return checked.ok && dependenciesOf(checked.node).some((dependency) => dependency.id === id || within.has(dependency.id));
    },
  };
}
