/** Where an expression stands and what it has to be there. */
import type { AppDesign, TableId } from '../design/design.js';
import { feelName } from './names.js';
import type { Node, Variable } from './node.js';
import type { Problem } from './syntax.js';
import { isScalar, listOf, plainKind, types, type Type } from './types.js';

/** Where an expression stands: what can be named in it. */
export interface Scope {
  readonly design: AppDesign;
  /** The table of whose records it speaks, or null: then only `me`, `today()` and what is written out. */
  readonly table: TableId | null;
}

/** `weight`: how many parts it comes to with the formulas that it names written out in it. */
export type Checked = { readonly ok: true; readonly node: Node; readonly weight: number } | { readonly ok: false; readonly problems: readonly Problem[] };

/** What an expression has to give at its place. */
export interface Wanted {
  readonly fits: (type: Type) => boolean;
  /** Completes "This must be …". */
  readonly says: string;
}
export const wants = {
  truth: { fits: (type: Type) => type.kind === 'boolean', says: 'yes or no, such as a comparison' },
  text: { fits: (type: Type) => plainKind(type) === 'string' || type.kind === 'null', says: 'a text; other values become one by string( )' },
  plain: { fits: (type: Type) => isScalar(type), says: 'one plain value: a number, a text, a date, yes or no' },
  shown: { fits: (type: Type) => isScalar(type) || type.kind === 'record', says: 'one value: a field, or many summed up to one' },
} as const satisfies Record<string, Wanted>;

export class Refusing extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}

/** What stands behind `me.`: what every person has, and the records that the people of this app are tied to. */
export const entriesOfMe = (design: AppDesign): Readonly<Record<string, Type>> => ({
  ...meEntries,
  ...Object.fromEntries(design.ties.map((tie): [string, Type] => [feelName(tie.name), { kind: 'record', table: tie.table }])),
});
export const meEntries: Readonly<Record<'Name' | 'Mail' | 'Roles', Type>> = { Name: types.string, Mail: types.string, Roles: listOf(types.string) };

export interface Local {
  readonly name: string;
  readonly variable: Variable;
  readonly type: Type;
  /** In a filter the names of the element's own parts come before those around it. */
  readonly opens: boolean;
}
