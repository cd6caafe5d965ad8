/** Texts that have a form: what is typed is brought into it, and nothing else is stored. */
import { types } from '../feel/types.js';
import { wants } from '../feel/wants.js';
import { writtenText } from '../feel/write.js';
import { literal } from '../sql/sql.js';
import { asIs, identical, readsAlike, textOrNothing, type CommonPlan, type FieldKind } from './kind.js';
import { bad, good } from './value.js';

export interface TextForm {
  /** Completes "… is not" and "must be". */
  readonly wanted: string;
  /** At most so many characters. */
  readonly most: number;
  /** What texts in the form look like, for JavaScript and PostgreSQL alike, without regard to case. */
  readonly pattern: string;
  /** What was typed, nearer to the form: without what people paste along with it. */
  readonly clean: (typed: string) => string;
  /** A text that fits the pattern, in the one form in which equal ones are stored. */
  readonly normal: (text: string) => string;
  /** The same two in SQL. They never raise an error, whatever the text is. */
  readonly cleanSql: (text: string) => string;
  readonly normalSql: (text: string) => string;
}

export function formedText(form: TextForm): Pick<FieldKind<CommonPlan>, 'digits' | 'value' | 'feel' | 'column' | 'cells'> {
  const fits = new RegExp(form.pattern, 'iu');
  const read = (typed: string): string | null => {
    const text = form.clean(typed.trim());
    return text.length <= form.most && fits.test(text) ? form.normal(text) : null;
  };
  return {
    digits: () => null,
    value: {
      parse: (typed) => {
        if (typed.trim() === '') return good(null);
        const text = read(typed);
        return text === null ? bad(`"${typed.trim().slice(0, 80)}" is not ${form.wanted}`) : good(text);
      },
      print: textOrNothing,
      typed: textOrNothing,
      problem: (value) => (typeof value === 'string' && read(value) === value ? null : `must be ${form.wanted}`),
      normal: asIs,
      same: identical,
      exported: asIs,
    },
    feel: {
      type: () => types.string,
      from: (value) => String(value),
      to: (computed) => (typeof computed === 'string' ? read(computed) : null),
      literal: (value) => writtenText(String(value)),
      wanted: wants.text,
    },
    column: {
      type: () => 'text',
      constant: (value) => literal(String(value)),
      rules: () => [],
      sortKey: (column) => column,
      sortType: 'text',
      sent: (column) => column,
      asText: (column) => column,
      fromText: (text) => {
        const clean = form.cleanSql(`regexp_replace(${text}, '^\\s+|\\s+$', '', 'g')`);
        return `CASE WHEN length(${clean}) <= ${form.most} AND (${clean}) COLLATE "C" ~* ${literal(form.pattern)} THEN ${form.normalSql(clean)} END`;
      },
      takesEveryText: false,
      conversions: (_, before, after) => (after.kind === before.kind || after.kind === 'text' || after.kind === 'long_text' ? null : 'through text'),
    },
    cells: {
      reader: () => (text) => read(text) ?? { problem: `is not ${form.wanted}` },
      ...readsAlike,
      reading: null,
      settingsFor: () => ({}),
    },
  };
}

/** How wide such a field is, and what it takes part in. */
export const formedTraits = {
  align: 'left',
  formWidth: 6,
  listWidth: 200,
  rowWidth: 180,
  canBeUnique: true,
  searched: true,
  listed: true,
  caption: false,
  addsUp: false,
  words: true,
} as const;
