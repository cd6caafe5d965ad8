/** The bands of a report: what stands in each strip of its pages, and where from left to right. */
import type { Report, ReportField } from '../design/report.js';
import type { Summary } from '../design/saved-query.js';
import type { BandKind, Paper, Style } from './page.js';

/** A column of the rows. */
export interface ReportColumn {
  readonly id: string;
  readonly name: string;
  /** The kind of its type in the expression language. */
  readonly type: string;
  readonly digits: number | null;
}

/** What a cell says. */
export type Content =
  | { readonly kind: 'text'; readonly text: string }
  /** What a column is called. */
  | { readonly kind: 'heading'; readonly column: ReportColumn }
  | { readonly kind: 'field'; readonly column: ReportColumn; readonly place: number }
  /** The value that the rows of the group share. */
  | { readonly kind: 'group'; readonly column: ReportColumn; readonly place: number }
  | { readonly kind: 'total'; readonly column: ReportColumn; readonly place: number; readonly summary: Summary }
  /** How many rows stand above, called by the value that they share or as all of them. */
  | { readonly kind: 'count'; readonly column: ReportColumn | null; readonly place: number }
  | { readonly kind: 'page' };

export interface Cell {
  readonly x: number;
  readonly width: number;
  readonly align: 'left' | 'right';
  readonly style: Style;
  readonly says: Content;
  /** A text goes on in at most so many lines. */
  readonly mostLines: number;
}

export interface Band {
  readonly kind: BandKind;
  /** Cells beside each other; each list stands below the one before. */
  readonly lines: readonly (readonly Cell[])[];
  /** Empty above and below what it says, in points. */
  readonly above: number;
  readonly below: number;
  /** Thickness of the rule over and under it; 0: none. */
  readonly ruleAbove: number;
  readonly ruleBelow: number;
}

export interface Bands {
  readonly reportHeader: Band;
  readonly pageHeader: Band;
  /** The outermost first. */
  readonly groups: readonly { readonly header: Band; readonly footer: Band }[];
  readonly row: Band;
  readonly reportFooter: Band;
  readonly pageFooter: Band;
  /** Stands in the place of rows when there are none. */
  readonly nothing: Band;
}

const style = (face: Style['face'], size: number, leading: number, tone: Style['tone'] = 'ink'): Style => ({ face, size, leading, tone });
const styles = {
  title: style('title', 20, 25),
  says: style('text', 9.5, 13, 'quiet'),
  heading: style('bold', 8.5, 11, 'quiet'),
  group: style('title', 12, 16),
  innerGroup: style('bold', 10, 14),
  row: style('text', 9, 12),
  total: style('bold', 9, 12),
  label: style('text', 8, 12, 'quiet'),
  foot: style('text', 8, 10, 'quiet'),
} as const;

const gap = 8;
const manyLines = 200;
const headingLines = 3;

const summaryWords: Readonly<Record<Summary, string>> = { count: 'Number', sum: 'Sum', average: 'Average', smallest: 'Smallest', largest: 'Largest' };

/** A field with its column and its place on the paper. */
interface Placed {
  readonly field: ReportField;
  readonly column: ReportColumn;
  readonly place: number;
  readonly x: number;
  readonly width: number;
}

const band = (kind: BandKind, lines: Band['lines'], more: Partial<Omit<Band, 'kind' | 'lines'>> = {}): Band => ({
  kind,
  lines,
  above: 0,
  below: 0,
  ruleAbove: 0,
  ruleBelow: 0,
  ...more,
});

const isRight = (column: ReportColumn): boolean => column.type === 'number';

/** What is printed around the rows. */
export interface Around {
  /** The name of the app. */
  readonly app: string;
  /** When it was printed, in words. */
  readonly printed: string;
}

/** The bands of a report over such columns, on such paper. */
export function bandsOf(report: Report, columns: readonly ReportColumn[], paper: Paper, around: Around): Bands {
  const width = paper.width - 2 * paper.margin;
  const find = (id: string): { readonly column: ReportColumn; readonly place: number } => {
    const place = columns.findIndex((one) => one.id === id);
    const column = columns[place];
    if (column === undefined) throw new TypeError(`The rows have no column ${id}`);
    return { column, place };
  };
  const placed = placedFields(report, find, width);
  const full = (says: Content, look: Style, mostLines = 1): Cell => ({ x: 0, width, align: 'left', style: look, says, mostLines });
  const text = (words: string): Content => ({ kind: 'text', text: words });
  const isBlocks = report.arrangement === 'blocks';
  const third = (width - 2 * gap) / 3;
  return {
    reportHeader: band(
      'report_header',
      [[full(text(report.name), styles.title, headingLines)], ...(report.description === '' ? [] : [[full(text(report.description), styles.says, manyLines)]])],
      { below: 10 },
    ),
    pageHeader: isBlocks
      ? band('page_header', [], { ruleBelow: 0.75 })
      : band('page_header', [placed.map((one) => cellOf(one, { kind: 'heading', column: one.column }, styles.heading, headingLines))], {
          below: 3,
          ruleBelow: 0.75,
        }),
    groups: report.groups.map((group, level) => {
      const { column, place } = find(group.column);
      return {
        header: band('group_header', [[full({ kind: 'group', column, place }, level === 0 ? styles.group : styles.innerGroup)]], {
          above: level === 0 ? 10 : 6,
          below: 2,
        }),
        footer: totalsBand('group_footer', placed, { kind: 'count', column, place }, isBlocks, width),
      };
    }),
    row: isBlocks
      ? blockBand(placed, width)
      : band('row', [placed.map((one) => cellOf(one, fieldOf(one), styles.row, one.field.wraps ? manyLines : 1))], tight),
    reportFooter: totalsBand('report_footer', placed, { kind: 'count', column: null, place: -1 }, isBlocks, width),
    pageFooter: band(
      'page_footer',
      [
        [
          { x: 0, width: third, align: 'left', style: styles.foot, says: text(around.app), mostLines: 1 },
          { x: third + gap, width: third, align: 'left', style: styles.foot, says: text(around.printed), mostLines: 1 },
          { x: 2 * (third + gap), width: third, align: 'right', style: styles.foot, says: { kind: 'page' }, mostLines: 1 },
        ],
      ],
      { above: 8 },
    ),
    nothing: band('row', [[full(text('The report has no rows.'), styles.row)]], { above: 6, below: 6 }),
  };
}

const tight = { above: 2.5, below: 2.5, ruleBelow: 0.25 };
const fieldOf = ({ column, place }: Placed): Content => ({ kind: 'field', column, place });

function placedFields(report: Report, find: (id: string) => { readonly column: ReportColumn; readonly place: number }, width: number): readonly Placed[] {
  const shares = report.fields.reduce((sum, one) => sum + one.share, 0);
  const shared = width - gap * (report.fields.length - 1);
  let x = 0;
  return report.fields.map((field): Placed => {
    const own = (shared * field.share) / shares;
    const at = { ...find(field.column), field, x, width: own };
    x += own + gap;
    return at;
  });
}

const cellOf = (one: Placed, says: Content, look: Style, mostLines: number): Cell => ({
  x: one.x,
  width: one.width,
  align: isRight(one.column) ? 'right' : 'left',
  style: look,
  says,
  mostLines,
});

const labelWidth = 130;

/** Fields below each other, each with its name at the left. */
function blockBand(placed: readonly Placed[], width: number): Band {
  const label = Math.min(labelWidth, width / 3);
  const lines = placed.map((one): readonly Cell[] => [
    { x: 0, width: label, align: 'left', style: styles.label, says: { kind: 'text', text: one.column.name }, mostLines: headingLines },
    { x: label + gap, width: width - label - gap, align: 'left', style: styles.row, says: fieldOf(one), mostLines: one.field.wraps ? manyLines : 1 },
  ]);
  return band('row', lines, { above: 5, below: 5, ruleBelow: 0.25 });
}

// Room for "Ottermere · 12 rows" before the first total; with less the words stand on a line of their own.
const wordsWidth = 150;

/** How many rows there were, and the totals under their columns. */
function totalsBand(kind: 'group_footer' | 'report_footer', placed: readonly Placed[], count: Content, isBlocks: boolean, width: number): Band {
  const totalled = placed.flatMap((one) => (one.field.total === null ? [] : [{ ...one, summary: one.field.total }]));
  const says = (one: (typeof totalled)[number]): Content => ({ kind: 'total', column: one.column, place: one.place, summary: one.summary });
  const look = kind === 'report_footer' ? { above: 4, below: 4, ruleAbove: 0.75, ruleBelow: 0.75 } : { above: 3, below: 5, ruleAbove: 0.5 };
  const words = (space: number): Cell => ({ x: 0, width: space, align: 'left', style: styles.total, says: count, mostLines: 1 });
  if (isBlocks) {
    const label = Math.min(labelWidth, width / 3);
    const lines = totalled.map((one): readonly Cell[] => [
      {
        x: 0,
        width: label,
        align: 'left',
        style: styles.label,
        says: { kind: 'text', text: `${summaryWords[one.summary]} of ${one.column.name}` },
        mostLines: 2,
      },
      { x: label + gap, width: width - label - gap, align: 'left', style: styles.total, says: says(one), mostLines: 1 },
    ]);
    return band(kind, [[words(width)], ...lines], look);
  }
  const cells = totalled.map((one): Cell => ({ ...cellOf(one, says(one), styles.total, 1), align: 'right' }));
  const first = totalled[0]?.x ?? width + gap;
  return band(kind, first - gap >= wordsWidth ? [[words(first - gap), ...cells]] : [[words(width)], ...(cells.length === 0 ? [] : [cells])], look);
}
