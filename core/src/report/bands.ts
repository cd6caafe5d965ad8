/** The bands of a report: what is in each strip of its pages. */
import type { Report } from '../design/report.js';
import { arrangements, type Arrangement } from './arrangements.js';
import { band, gap, headingLines, manyLines, styles, type Band, type Cell, type Content, type Placed, type ReportColumn } from './band.js';
import type { Paper, Style } from './page.js';

export interface Bands {
  readonly reportHeader: Band;
  readonly pageHeader: Band;
  /** The outermost first. */
  readonly groups: readonly { readonly header: Band; readonly footer: Band }[];
  readonly row: Band;
  readonly reportFooter: Band;
  readonly pageFooter: Band;
  /** Is in the place of rows when there are none. */
  readonly nothing: Band;
}

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
    const index = columns.findIndex((reportColumn) => reportColumn.id === id);
    const column = columns[index];
    if (column === undefined) throw new TypeError(`The rows have no column ${id}`);
    return { column, place: index };
  };
  const placed = placedFields(report, find, width);
  const full = (content: Content, look: Style, mostLines = 1): Cell => ({ x: 0, width, align: 'left', style: look, content, mostLines });
  const text = (words: string): Content => ({ kind: 'text', text: words });
  const arrangement = arrangements[report.arrangement];
  const third = (width - 2 * gap) / 3;
  return {
    reportHeader: band(
      'report_header',
      [
        [full(text(report.name), styles.title, headingLines)],
        ...(report.description === '' ? [] : [[full(text(report.description), styles.description, manyLines)]]),
      ],
      { below: 10 },
    ),
    pageHeader: arrangement.pageHeader(placed),
    groups: report.groups.map((group, level) => {
      const { column, place } = find(group.column);
      return {
        header: band('group_header', [[full({ kind: 'group', column, place }, level === 0 ? styles.group : styles.innerGroup)]], {
          above: level === 0 ? 10 : 6,
          below: 2,
        }),
        footer: totalsBand('group_footer', placed, { kind: 'count', column, place }, arrangement, width),
      };
    }),
    row: arrangement.row(placed, width),
    reportFooter: totalsBand('report_footer', placed, { kind: 'count', column: null, place: -1 }, arrangement, width),
    pageFooter: band(
      'page_footer',
      [
        [
          { x: 0, width: third, align: 'left', style: styles.foot, content: text(around.app), mostLines: 1 },
          { x: third + gap, width: third, align: 'left', style: styles.foot, content: text(around.printed), mostLines: 1 },
          { x: 2 * (third + gap), width: third, align: 'right', style: styles.foot, content: { kind: 'page' }, mostLines: 1 },
        ],
      ],
      { above: 8 },
    ),
    nothing: band('row', [[full(text('The report has no rows.'), styles.row)]], { above: 6, below: 6 }),
  };
}

function placedFields(report: Report, find: (id: string) => { readonly column: ReportColumn; readonly place: number }, width: number): readonly Placed[] {
  const shares = report.fields.reduce((sum, field) => sum + field.share, 0);
  const shared = width - gap * (report.fields.length - 1);
  let x = 0;
  return report.fields.map((field): Placed => {
    const own = (shared * field.share) / shares;
    const at = { ...find(field.column), field, x, width: own };
    x += own + gap;
    return at;
  });
}

/** How many rows there were, and the totals of fields. */
function totalsBand(kind: 'group_footer' | 'report_footer', placed: readonly Placed[], count: Content, arrangement: Arrangement, width: number): Band {
  const totalled = placed.flatMap((each) => (each.field.total === null ? [] : [{ ...each, summary: each.field.total }]));
  const look = kind === 'report_footer' ? { above: 4, below: 4, ruleAbove: 0.75, ruleBelow: 0.75 } : { above: 3, below: 5, ruleAbove: 0.5 };
  const words = (space: number): Cell => ({ x: 0, width: space, align: 'left', style: styles.total, content: count, mostLines: 1 });
  return band(kind, arrangement.totals(totalled, words, width), look);
}
