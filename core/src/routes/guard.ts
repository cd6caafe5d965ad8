import type { AppDesign } from '../design/design.js';
import type { Move, Route } from '../design/route.js';
import { check } from '../expression/check.js';
import type { Node } from '../expression/node.js';
import { wants } from '../feel/wants.js';

/** The condition that a record must meet for a move; null: none. */
export function guardOf(design: AppDesign, route: Route, move: Move): Node | null {
  if (move.guard.trim() === '') return null;
  const checked = check(move.guard, { design, table: route.table }, wants.truth);
  if (!checked.ok) throw new TypeError(`A guard of the design cannot be read: ${move.guard}`);
  return checked.node;
}
