/** Where an expression stands and what it has to be there. */
import type { AppDesign, TableId } from '../design/design.js';
import { feelName } from '../feel/names.js';
import type { Node, Variable } from './node.js';
import type { Problem } from '../feel/syntax.js';
import { listOf, types, type Type } from '../feel/types.js';

/** Where an expression stands: what can be named in it. */
export interface Scope {
  readonly design: AppDesign;
  /** The table of whose records it speaks, or null: then only `me`, `today()` and what is written out. */
  readonly table: TableId | null;
}

/** `weight`: how many parts it comes to with the formulas that it names written out in it. */
export type Checked = { readonly ok: true; readonly node: Node; readonly weight: number } | { readonly ok: false; readonly problems: readonly Problem[] };

export class Refusing extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}

/** What is behind `me.`: what every person has, and the records that the people of this app are tied to. */
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
