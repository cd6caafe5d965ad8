/** Turning a column of one kind into another: an expression that is null exactly where the value would not survive. */
import type { StoredField as Field } from '../design/design.js';
import type { Conversion } from '../fields/kind.js';
import { ident } from '../sql/sql.js';
import { columnKind, columnType } from './columns.js';

/**
 * SQL conditions over the old column: of values that become empty, and of those that become something whose text is not
 * theirs ("00501" becomes 501).
 * @param becomes SQL: the value that the old one becomes
 */
export function sufferingOf(before: Field, after: Field, becomes: string): { readonly lost: string; readonly altered: string } {
  const column = ident(before.column);
  const made = `(${becomes})`;
  const { asText, saysLess } = columnKind(before);
  const isAltered = saysLess === true ? 'true' : `${columnKind(after).asText(made, after)} IS DISTINCT FROM ${asText(column, before)}`;
  return {
    lost: `${column} IS NOT NULL AND ${made} IS NULL`,
    altered: `${column} IS NOT NULL AND ${made} IS NOT NULL AND ${isAltered}`,
  };
}

/** How the values of `before` become values of `after` in an app of this time zone, or null when the column can stay as it is. */
export function conversionOf(before: Field, after: Field, zone: string): Conversion | null {
  const column = ident(before.column);
  const own = columnKind(before).conversions(column, before, after, zone);
  if (own !== 'through text') return own;
  const { fromText, takesEveryText } = columnKind(after);
  return { expression: fromText(`(${columnKind(before).asText(column, before)})`, after), canLose: !takesEveryText || columnKind(before).saysLess === true };
}

/** Whether two fields hold the same values in the same way. Their other settings can differ. */
export function holdsAlike(a: Field, b: Field): boolean {
  const rulesOf = (field: Field): string =>
    JSON.stringify(
      columnKind(field)
        .rules(field, 'value')
        .map((rule) => rule.check),
    );
  return a.kind === b.kind && columnType(a) === columnType(b) && rulesOf(a) === rulesOf(b);
}
