/** Between what the language computes and what fields hold. */
import type { AppDesign, Field, FieldPlan } from '../design/design.js';
import type { Value } from '../values/values.js';
import { writeDay } from './calendar.js';
import { check } from './check.js';
import { evaluate, TooMuch, type Surroundings } from './evaluate.js';
import { textOf } from './functions/conversions.js';
import { Decimal, digitsOf, isList, isNumber, type Feel } from './value.js';

/** A computed value as a field holds it: decimals are rounded to the field's digits, a choice is found by its label. */
export function valueFor(field: FieldPlan, computed: Feel): Value {
  if (computed === null) return null;
  switch (field.kind) {
    case 'whole':
      return isNumber(computed) && computed.isInteger() && computed.abs().lte(Number.MAX_SAFE_INTEGER) ? computed.toNumber() : null;
    case 'decimal':
      return isNumber(computed) ? digitsOf(computed.toDecimalPlaces(field.digits, Decimal.ROUND_HALF_EVEN)) : null;
    case 'choice':
      return field.choices.find((one) => one.label === computed)?.id ?? null;
    case 'date':
      return typeof computed === 'object' && !isList(computed) && 'kind' in computed && computed.kind === 'date' ? writeDay(computed) : null;
    case 'yes_no':
      return typeof computed === 'boolean' ? computed : null;
    case 'text':
    case 'long_text':
      return typeof computed === 'string' ? computed : null;
    case 'reference':
    case 'formula':
      return null;
    default:
      return field satisfies never;
  }
}

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
  const checked = check(field.default, { design, table: null }, { fits: () => true, says: '' });
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
  const checked = check(field.default, { design: blank, table: null }, { fits: () => true, says: '' });
  return checked.ok && checked.node.kind === 'constant' ? valueFor(field, checked.node.value) : undefined;
}

/** How the language writes a value of a field: what stands in a default that was typed as a plain value. */
export function writtenValue(field: FieldPlan, value: Value): string | null {
  if (value === null || value === '') return null;
  if (field.kind === 'date') return `date(${JSON.stringify(value)})`;
  if (field.kind === 'choice') return JSON.stringify(field.choices.find((one) => one.id === value)?.label ?? '');
  return field.kind === 'text' || field.kind === 'long_text' ? writtenText(String(value)) : String(value);
}
export const writtenText = (text: string): string =>
  `"${text.replace(/[\\"]/gu, '\\$&').replace(/\n/gu, '\\n').replace(/\r/gu, '\\r').replace(/\t/gu, '\\t')}"`;
