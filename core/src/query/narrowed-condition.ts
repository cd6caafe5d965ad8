import { DateTime } from 'luxon';
import type { AppDesign } from '../design/design.js';
import { check } from '../expression/check.js';
import { wants } from '../feel/wants.js';
import { writtenText } from '../feel/write.js';
import { isByMonth, valueNode, valueText } from '../parts/narrowing.js';
import type { Narrowing } from './query.js';

/**
 * The condition of a list together with what it is narrowed to, as a text: what a list shows that is kept for others. Null
 * where a value cannot be written.
 */
export function narrowedCondition(design: AppDesign, table: string, condition: string, narrowed: readonly Narrowing[]): string | null {
  const parts = narrowed.map((each) => narrowingText(design, table, each));
  if (parts.includes(null)) return null;
  const all = [...(condition.trim() === '' ? [] : [condition.trim()]), ...parts];
  const text = all.length === 1 ? (all[0] ?? '') : all.map((part) => `(${part})`).join(' and ');
  return text === '' || check(text, { design, table }, wants.truth).ok ? text : null;
}

function narrowingText(design: AppDesign, table: string, narrowing: Narrowing): string | null {
  const path = valueText(design, table, narrowing.field);
  const node = valueNode(design, table, narrowing.field);
  if (path === null || node === null) return null;
  const day = node.type.kind === 'date' ? path : `date(${path})`;
  const within = (from: string, before: string): string => `${day} >= date("${from}") and ${day} < date("${before}")`;
  if (!('values' in narrowing)) return within(narrowing.from, narrowing.before);
  const texts = narrowing.values.map((value): string => {
    if (value === null) return `${path} = null`;
    if (isByMonth(node)) return within(String(value), DateTime.fromISO(String(value), { zone: 'utc' }).plus({ months: 1 }).toISODate() ?? '');
    if (node.type.kind === 'record') return `record number(${path}) = ${value}`;
    return `${path} = ${node.type.kind === 'number' || typeof value !== 'string' ? value : writtenText(value)}`;
  });
  return texts.length === 1 ? (texts[0] ?? '') : texts.map((text) => `(${text})`).join(' or ');
}
