/** Kinds whose values are texts of a form of their own: what is typed is read into it, and nothing else is stored. */
import { types } from '../feel/types.js';
import { wants } from '../feel/wants.js';
import { writtenText } from '../feel/write.js';
import { literal } from '../sql/sql.js';
import { asIs, identical, readsAlike, type CommonPlan, type FieldKind, type FieldPart } from './kind.js';
import { bad, good, type Value } from './value.js';

export interface TextReader<F> {
  /** Completes "… is not" and "must be". */
  readonly wanted: string | ((field: F) => string);
  /** A filled text in the one form in which equal values are stored; null where it is no such value. */
  readonly read: (typed: string, field: F) => string | null;
  /** Whether a text is in that form; not given: whether it is read as itself. */
  readonly isStored?: (text: string, field: F) => boolean;
  /** Set when its lines tell its parts: then an empty one counts at both ends of what is typed too. */
  readonly hasLines?: true;
  /** The value on screen and paper; not given: as it is stored. */
  readonly print?: (value: string) => string;
  /** The value in a file, so that it is read again as the same; not given: as it is printed. */
  readonly exported?: (value: string) => string;
  /** The value of a text in SQL, null where it is none. It never raises an error, whatever the text is. */
  readonly fromText: (text: string, field: F) => string;
  /** Set when expressions see the value otherwise than it is stored: in memory and in SQL. */
  readonly seen?: { readonly as: (value: string) => string; readonly sql: (column: string) => string };
  readonly parts?: Readonly<Record<string, FieldPart>>;
  /** Set when its text says less than the value. */
  readonly saysLess?: true;
}

export function readText<F extends CommonPlan>(form: TextReader<F>): Pick<FieldKind<F>, 'digits' | 'value' | 'feel' | 'column' | 'cells'> {
  const { parts, saysLess, seen, hasLines } = form;
  const wanted = (field: F): string => (typeof form.wanted === 'string' ? form.wanted : form.wanted(field));
  const isStored = form.isStored ?? ((text, field) => form.read(text, field) === text);
  const printed = (value: Value): string => (typeof value === 'string' ? (form.print?.(value) ?? value) : '');
  const asSeen = (value: Value): string => seen?.as(String(value)) ?? String(value);
  return {
    digits: () => null,
    value: {
      parse: (typed, field) => {
        if (typed.trim() === '') return good(null);
        const text = form.read(hasLines === true ? typed : typed.trim(), field);
        return text === null ? bad(`"${typed.trim().slice(0, 80)}" is not ${wanted(field)}`) : good(text);
      },
      print: printed,
      typed: (value) => (typeof value !== 'string' ? '' : saysLess === undefined ? printed(value) : value),
      problem: (value, field) => (typeof value === 'string' && isStored(value, field) ? null : `must be ${wanted(field)}`),
      normal: asIs,
      same: identical,
      exported: (value) => (typeof value === 'string' ? (form.exported?.(value) ?? printed(value)) : value),
    },
    feel: {
      type: () =>
        parts === undefined ? types.string : { kind: 'string', parts: Object.fromEntries(Object.entries(parts).map(([name, part]) => [name, part.type])) },
      from: asSeen,
      ...(parts === undefined ? {} : { parts }),
      to: (computed, field) => (typeof computed === 'string' ? form.read(computed.trim(), field) : null),
      literal: (value) => writtenText(asSeen(value)),
      wanted: wants.text,
    },
    column: {
      type: () => 'text',
      constant: (value) => literal(String(value)),
      rules: () => [],
      sortKey: (column) => column,
      sortType: 'text',
      sent: (column) => column,
      ...(seen === undefined ? {} : { isWhole: true as const, stored: () => ({ seen: seen.sql, constant: () => null, isOrdered: false }) }),
      asText: (column) => seen?.sql(column) ?? column,
      ...(saysLess === undefined ? {} : { saysLess }),
      fromText: form.fromText,
      takesEveryText: false,
      conversions: (_, before, after) =>
        after.kind === before.kind || (seen === undefined && (after.kind === 'text' || after.kind === 'long_text')) ? null : 'through text',
    },
    cells: {
      reader: (field) => (text) => form.read(text.trim(), field) ?? { problem: `is not ${wanted(field)}` },
      ...readsAlike,
      reading: null,
      settingsFor: () => ({}),
    },
  };
}

/** How wide such a field is, and what it takes part in. */
export const textTraits = {
  align: 'left',
  formWidth: 6,
  listWidth: 200,
  rowWidth: 180,
  canBeUnique: true,
  canBeIndexed: true,
  searched: true,
  listed: true,
  caption: false,
  addsUp: false,
  words: true,
} as const;
