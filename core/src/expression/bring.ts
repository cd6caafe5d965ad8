/** Between what the language computes and what fields hold. */
import type { AppDesign, Field } from '../design/design.js';
import { kindOf, type FieldPlan } from '../fields/kinds.js';
import type { Value } from '../fields/value.js';
import { check } from './check.js';
import { evaluate, type Surroundings } from './evaluate.js';
import { TooMuch } from './not-computed.js';
import { textOf } from '../feel/functions/conversions.js';
import { digitsOf, isNumber, type Feel } from '../feel/value.js';
import { wants } from '../feel/wants.js';

/** A computed value as a field holds it: decimals are rounded to the field's digits, a choice is found by its label. */
export const valueFor = (field: FieldPlan, computed: Feel): Value => (computed === null ? null : kindOf(field).feel.to(computed, field));

/** A computed value as it travels to screens: numbers as digits, dates as ISO, truths as they are, all else as text. */
export function shown(computed: Feel, zone: string): Value {
  if (computed === null || typeof computed === 'boolean') return computed;
  return isNumber(computed) ? digitsOf(computed) : textOf(computed, { zone });
}

const nobody: Pick<Surroundings, 'records' | 'self'> = { records: { value: () => null, children: () => [] }, self: null };
export type Circumstances = Pick<Surroundings, 'now' | 'zone' | 'me' | 'ties' | 'person'>;

/** The value a new record starts with. */
export function startValue(design: AppDesign, field: Field, around: Circumstances): Value {
  if (field.default === null) return null;
  const checked = check(field.default, { design, table: null }, wants.anything);
  if (!checked.ok) return null;
  try {
    return valueFor(field, evaluate(checked.node, { ...around, ...nobody }));
  } catch (error) {
    if (error instanceof TooMuch) return null;
    throw error;
  }
}

const blank = { tables: [], relationships: [], forms: [], lists: [], queries: [], roles: [], ties: [] } as unknown as AppDesign;

/** A default that is the same for every new record, as a value; undefined when it has to be computed each time. */
export function constantDefault(field: FieldPlan): Value | undefined {
  if (field.default === null) return null;
  const checked = check(field.default, { design: blank, table: null }, wants.anything);
  return checked.ok && checked.node.kind === 'constant' ? valueFor(field, checked.node.value) : undefined;
}

/** How the language writes a value of a field: what is in a default that was typed as a plain value. */
export const writtenValue = (field: FieldPlan, value: Value): string | null =>
  value === null || value === '' ? null : kindOf(field).feel.literal(value, field);
