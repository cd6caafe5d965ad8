/** What records are grouped and narrowed by. */
import type { AppDesign } from '../design/design.js';
import { tableOf } from '../design/read.js';
import { check } from '../expression/check.js';
import { membersOf } from '../expression/names.js';
import type { Node } from '../expression/node.js';
import { shownExpression } from '../fields/kinds.js';
import { wants } from '../feel/wants.js';
import { canNarrow } from './can-narrow.js';

/** The value of a field as expressions see it; null where the table has no such field, or expressions don't see it. */
export function valueNode(design: AppDesign, table: string, id: string): Node | null {
  const value = valueText(design, table, id);
  return value === null ? null : nodeOf(design, table, value);
}

/**
 * What records are grouped by: the value of a field as expressions see it, of a date its month. Null where the field has
 * none that can be grouped by.
 */
export function narrowingNode(design: AppDesign, table: string, id: string): Node | null {
  const field = tableOf(design, table).fields.find((each) => each.id === id);
  const value = valueText(design, table, id);
  const node = value === null ? null : nodeOf(design, table, value);
  if (field === undefined || !canNarrow(field) || node === null || node.type.kind === 'list' || node.type.kind === 'context') return null;
  return isByMonth(node) ? nodeOf(design, table, `date(${value}.year, ${value}.month, 1)`) : node;
}

/** Whether a date is from one day on and before another; null where the field is no date. */
export function daysNode(design: AppDesign, table: string, id: string, days: { readonly from: string; readonly before: string }): Node | null {
  const value = valueText(design, table, id);
  const node = value === null ? null : nodeOf(design, table, value);
  if (node === null || !isByMonth(node)) return null;
  const day = node.type.kind === 'date' ? value : `date(${value})`;
  return nodeOf(design, table, `${day} >= date("${days.from}") and ${day} < date("${days.before}")`);
}

/** Dates are grouped by their months: of single days few are shared. */
export const isByMonth = (node: Node): boolean => node.type.kind === 'date' || node.type.kind === 'date and time';

/** The value of a field in an expression over its table; null as for `valueNode`. */
export function valueText(design: AppDesign, table: string, id: string): string | null {
  const member = membersOf(design, table).find((each) => each.kind === 'field' && each.field.id === id);
  return member?.kind === 'field' ? shownExpression(member.field, member.name) : null;
}

function nodeOf(design: AppDesign, table: string, text: string): Node | null {
  const checked = check(text, { design, table }, wants.anything);
  return checked.ok ? checked.node : null;
}
