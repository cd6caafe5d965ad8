/** Texts whose form is a pattern. */
import { literal } from '../sql/sql.js';
import type { CommonPlan, FieldKind } from './kind.js';
import { readText } from './read-text.js';

export interface TextForm {
  /** Completes "… is not" and "must be". */
  readonly wanted: string;
  /** At most so many characters. */
  readonly most: number;
  /** What texts in the form look like, for JavaScript and PostgreSQL alike, without regard to case. */
  readonly pattern: string;
  /** What no text of another kind has. */
  readonly sign: RegExp;
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
  const kind = readText({
    wanted: form.wanted,
    read,
    fromText: (text) => {
      const clean = form.cleanSql(`regexp_replace(${text}, '^\\s+|\\s+$', '', 'g')`);
      return `CASE WHEN length(${clean}) <= ${form.most} AND (${clean}) COLLATE "C" ~* ${literal(form.pattern)} THEN ${form.normalSql(clean)} END`;
    },
  });
  return { ...kind, cells: { ...kind.cells, recognises: (text) => form.sign.test(text) && read(text) !== null } };
}
