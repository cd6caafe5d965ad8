/** Turning a column of one kind into another: an expression that is null exactly where the value would not survive. */
import type { StoredField as Field } from '../design/design.js';
import { largestWhole } from '../design/design.js';
import { ident, literal } from '../sql/sql.js';
import { columnType } from './columns.js';

/** The value as text in its canonical form: choices as their labels, dates as ISO, numbers without trailing zeros. */
export function asText(field: Field, column: string): string {
  switch (field.kind) {
    case 'text':
    case 'long_text':
      return column;
    case 'choice':
      return `CASE ${column} ${field.choices.map((choice) => `WHEN ${literal(choice.id)} THEN ${literal(choice.label)}`).join(' ')} ELSE ${column} END`;
    case 'yes_no':
      return `CASE ${column} WHEN true THEN 'yes' WHEN false THEN 'no' END`;
    case 'decimal':
      return `trim_scale(${column})::text`;
    case 'whole':
    case 'date':
    case 'reference':
      return `${column}::text`;
    default:
      return field satisfies never;
  }
}

// Each pattern admits only what its cast accepts, so the CASE around it never raises on data. A date that fits the
// pattern but not the calendar is the exception that no pattern can tell; the day is compared with its month's length.
const wholePattern = '^\\s*[-+]?[0-9]{1,15}(\\.0*)?\\s*$';
const decimalPattern = (whole: number, digits: number): string => `^\\s*[-+]?[0-9]{1,${whole}}(\\.[0-9]{0,${digits}}0*)?\\s*$`;
const datePattern = '^(?!0000)[0-9]{4}-(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])$';

export function fromText(field: Field, text: string): string {
  switch (field.kind) {
    case 'text':
    case 'long_text':
      return text;
    case 'whole':
      return `CASE WHEN ${text} ~ ${literal(wholePattern)} THEN (${text})::numeric::bigint END`;
    case 'decimal':
      return `CASE WHEN ${text} ~ ${literal(decimalPattern(26, field.digits))} THEN (${text})::numeric::${columnType(field)} END`;
    case 'date': {
      const [year, month, day] = [`left(${text}, 4)::int`, `substr(${text}, 6, 2)::int`, `substr(${text}, 9, 2)::int`];
      const lastDay = `extract(day FROM make_date(${year}, ${month}, 1) + interval '1 month' - interval '1 day')`;
      return `CASE WHEN ${text} ~ ${literal(datePattern)} THEN CASE WHEN ${day} <= ${lastDay} THEN ${text}::date END END`;
    }
    case 'yes_no':
      return `CASE WHEN lower(trim(${text})) IN ('yes', 'y', 'true', '1', 'x') THEN true WHEN lower(trim(${text})) IN ('no', 'n', 'false', '0') THEN false END`;
    case 'choice':
      return `CASE ${field.choices.map((choice) => `WHEN lower(trim(${text})) = lower(${literal(choice.label)}) OR ${text} = ${literal(choice.id)} THEN ${literal(choice.id)}`).join(' ')} END`;
    case 'reference':
      return `NULL::bigint`;
    default:
      return field satisfies never;
  }
}

export interface Conversion {
  /** SQL expression over the old column. */
  readonly expression: string;
  /** Whether any value can fail to survive, or survive in another form: then those are set aside. */
  readonly canLose: boolean;
}

/**
 * SQL conditions over the old column: of values that become empty, and of those that become something whose text is not
 * theirs ("00501" becomes 501).
 */
export function sufferingOf(before: Field, after: Field, conversion: Conversion): { readonly lost: string; readonly altered: string } {
  const column = ident(before.column);
  const made = `(${conversion.expression})`;
  return {
    lost: `${column} IS NOT NULL AND ${made} IS NULL`,
    altered: `${column} IS NOT NULL AND ${made} IS NOT NULL AND ${asText(after, made)} IS DISTINCT FROM ${asText(before, column)}`,
  };
}

/** How the values of `before` become values of `after`, or null when the column can stay as it is. */
export function conversionOf(before: Field, after: Field): Conversion | null {
  const column = ident(before.column);
  const texts = new Set(['text', 'long_text']);
  if (before.kind === 'choice' && after.kind === 'choice') {
    const kept = new Set(after.choices.map((choice) => choice.id));
    if (before.choices.every((choice) => kept.has(choice.id))) return null;
    return { expression: `CASE WHEN ${column} IN (${[...kept].map(literal).join(', ')}) THEN ${column} END`, canLose: true };
  }
  if (before.kind === 'decimal' && after.kind === 'decimal') {
    if (before.digits === after.digits) return null;
    if (after.digits > before.digits) return { expression: `${column}::${columnType(after)}`, canLose: false };
    return { expression: `CASE WHEN ${column} = round(${column}, ${after.digits}) THEN ${column}::${columnType(after)} END`, canLose: true };
  }
  if (before.kind === after.kind || (texts.has(before.kind) && texts.has(after.kind))) return null;
  if (before.kind === 'whole' && after.kind === 'decimal') return { expression: `${column}::${columnType(after)}`, canLose: false };
  if (before.kind === 'decimal' && after.kind === 'whole')
    return { expression: `CASE WHEN ${column} = trunc(${column}) AND abs(${column}) <= ${largestWhole} THEN ${column}::bigint END`, canLose: true };
  return { expression: fromText(after, `(${asText(before, column)})`), canLose: !texts.has(after.kind) };
}
