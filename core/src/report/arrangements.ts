/** How the fields of a row are arranged on paper: one row here for each way. */
import type { Report } from '../design/report.js';
import type { Summary } from '../design/saved-query.js';
import { band, cellOf, gap, headingLines, manyLines, styles, type Band, type Cell, type Content, type Placed } from './band.js';

type Totalled = Placed & { readonly summary: Summary };

export interface Arrangement {
  /** What builders choose it by. */
  readonly choice: string;
  readonly pageHeader: (fields: readonly Placed[]) => Band;
  readonly row: (fields: readonly Placed[], width: number) => Band;
  /** Lines with the totals, and in the first the words that say how many rows there were. */
  readonly totals: (totalled: readonly Totalled[], words: (width: number) => Cell, width: number) => Band['lines'];
}

const fieldOf = ({ column, place }: Placed): Content => ({ kind: 'field', column, place });
const totalOf = ({ column, place, summary }: Totalled): Content => ({ kind: 'total', column, place, summary });

// Room for "Ottermere · 12 rows" before the first total; with less the words are on a line of their own.
const wordsWidth = 150;

const columns: Arrangement = {
  choice: 'side by side, in columns',
  pageHeader: (fields) =>
    band('page_header', [fields.map((field) => cellOf(field, { kind: 'heading', column: field.column }, styles.heading, headingLines))], {
      below: 3,
      ruleBelow: 0.75,
    }),
  row: (fields) =>
    band('row', [fields.map((field) => cellOf(field, fieldOf(field), styles.row, field.field.wraps ? manyLines : 1))], {
      above: 2.5,
      below: 2.5,
      ruleBelow: 0.25,
    }),
  totals: (totalled, words, width) => {
    const cells = totalled.map((each): Cell => ({ ...cellOf(each, totalOf(each), styles.total, 1), align: 'right' }));
    const first = totalled[0]?.x ?? width + gap;
    return first - gap >= wordsWidth ? [[words(first - gap), ...cells]] : [[words(width)], ...(cells.length === 0 ? [] : [cells])];
  },
};

const summaryWords: Readonly<Record<Summary, string>> = { count: 'Number', sum: 'Sum', average: 'Average', smallest: 'Smallest', largest: 'Largest' };
const labelWidth = 130;

/** A line with a name at the left and what belongs to it beside it. */
function named(name: string, content: Content, width: number, look: Pick<Cell, 'style' | 'mostLines'>): readonly Cell[] {
  const label = Math.min(labelWidth, width / 3);
  return [
    { x: 0, width: label, align: 'left', style: styles.label, content: { kind: 'text', text: name }, mostLines: headingLines },
    { x: label + gap, width: width - label - gap, align: 'left', content, ...look },
  ];
}

const blocks: Arrangement = {
  choice: 'one below the other, with names',
  pageHeader: () => band('page_header', [], { ruleBelow: 0.75 }),
  row: (fields, width) =>
    band(
      'row',
      fields.map((field) => named(field.column.name, fieldOf(field), width, { style: styles.row, mostLines: field.field.wraps ? manyLines : 1 })),
      { above: 5, below: 5, ruleBelow: 0.25 },
    ),
  totals: (totalled, words, width) => [
    [words(width)],
    ...totalled.map((each) => named(`${summaryWords[each.summary]} of ${each.column.name}`, totalOf(each), width, { style: styles.total, mostLines: 1 })),
  ],
};

export const arrangements: Readonly<Record<Report['arrangement'], Arrangement>> = { columns, blocks };
