/** Rows to pages: groups opened and closed with their totals, headings on every page, no row in two parts. */
import type { Report } from '../design/report.js';
import { written, type Value } from '../fields/value.js';
import type { Band, ReportColumn } from './band.js';
import { bandsOf, type Around, type Bands } from './bands.js';
import { layBand, type Block, type Means, type Speaks } from './lay.js';
import type { BandAt, BandKind, Box, Page, Paper } from './page.js';
import { addsOf, Totals, type Totalled } from './totals.js';

export interface Sheet extends Means {
  readonly report: Report;
  readonly columns: readonly ReportColumn[];
  /** The cells of each row, in the order of the report: rows of a group one after another. */
  readonly rows: readonly (readonly Value[])[];
  readonly paper: Paper;
  readonly around: Around;
}

/** A block on its way to a page. */
interface Flowing {
  readonly block: Block;
  /** It is never last on a page: what follows comes with it. */
  readonly holdsNext: boolean;
  /** It is never first on a page: it comes with what is before it. */
  readonly holdsBefore: boolean;
  readonly startsPage: boolean;
  /** How many groups, from the outermost, have begun before it and go on with it. */
  readonly within: number;
  /** Of the heading of a group: how it is said again on a further page. */
  readonly again: Block | null;
}

const sameGroup = (a: Value, b: Value): boolean => written(a) === written(b);

const nothingSaid: Speaks = { cells: [], totals: null, page: null };
// A page has room for so many lines of a row at least, or its headings are not said again.
const fewestLines = 3 * 12;

/**
 * The pages of a report. It yields now and then, so that the caller can let others work in between; what it
 * returns are the pages.
 */
export function* paginate(sheet: Sheet): Generator<undefined, readonly Page[]> {
  const layout = new Layout(sheet);
  let unit: Flowing[] = [];
  for (const next of layout.flow()) {
    const isHeld = unit.at(-1)?.holdsNext === true || next.holdsBefore;
    if (unit.length > 0 && !isHeld) {
      if (layout.place(unit)) yield undefined;
      unit = [];
    }
    unit.push(next);
  }
  layout.place(unit);
  return layout.finish();
}

/** The same all at once. */
export function layOut(sheet: Sheet): readonly Page[] {
  const work = paginate(sheet);
  for (;;) {
    const step = work.next();
    if (step.done === true) return step.value;
  }
}

class Layout {
  private readonly bands: Bands;
  private readonly width: number;
  private readonly pageHeader: Block;
  private readonly footHeight: number;
  /** The height between the headings and the foot of a page. */
  private readonly body: number;
  private readonly pages: Box[][] = [];
  private y = 0;
  private isFresh = true;
  /** How the headings of the open groups are said again, the outermost first. */
  private open: Block[] = [];

  constructor(private readonly sheet: Sheet) {
    const { report, columns, paper, around } = sheet;
    this.bands = bandsOf(report, columns, paper, around);
    this.width = paper.width - 2 * paper.margin;
    this.pageHeader = this.lay(this.bands.pageHeader, 'page_header', 0);
    this.footHeight = this.lay(this.bands.pageFooter, 'page_footer', 0, { ...nothingSaid, page: { number: 1, of: 1 } }).height;
    this.body = paper.height - 2 * paper.margin - this.pageHeader.height - this.footHeight;
    this.startPage();
  }

  private lay(band: Band, kind: BandKind, at: number, speaks: Speaks = nothingSaid, more: { isAgain?: boolean; mostHeight?: number } = {}): Block {
    const where: BandAt = { kind, at, isAgain: more.isAgain ?? false };
    return layBand(band, where, speaks, this.sheet, this.width, more.mostHeight);
  }

  /** Every block of the report in its order, each made when its turn comes. */
  *flow(): Generator<Flowing> {
    const { bands } = this;
    const { report, columns, rows } = this.sheet;
    const levels = report.groups.map((group) => ({ group, place: columns.findIndex((column) => column.id === group.column) }));
    const asked = report.fields.flatMap(({ column: id, total }): Totalled[] => {
      const index = columns.findIndex((reportColumn) => reportColumn.id === id);
      const column = columns[index];
      return total === null || column === undefined ? [] : [{ place: index, column, summary: total }];
    });
    const plain = { holdsNext: false, holdsBefore: false, startsPage: false, within: 0, again: null };
    // Nothing is so high that the headings said again above it leave no room for it.
    const headings = levels.map((_, level) =>
      this.lay(bands.groups[level]?.header as Band, 'group_header', level, { cells: rows[0] ?? [], totals: null, page: null }),
    );
    const highest = this.body - this.againHeight(headings);
    const all = new Totals(asked);
    let open: { readonly totals: Totals; readonly cells: readonly Value[] }[] = [];
    const foot = (level: number): Flowing => {
      const { totals = null, cells = [] } = open[level] ?? {};
      const band = bands.groups[level]?.footer as Band;
      return {
        ...plain,
        block: this.lay(band, 'group_footer', level, { cells, totals, page: null }, { mostHeight: highest }),
        holdsBefore: true,
        within: level + 1,
      };
    };
    let before: readonly Value[] | null = null;
    for (const [i, cells] of rows.entries()) {
      const last: readonly Value[] | null = before;
      const changed = last === null ? 0 : levels.findIndex(({ place }) => !sameGroup(last[place] ?? null, cells[place] ?? null));
      if (changed >= 0) {
        for (let level = open.length - 1; level >= changed; level -= 1) yield foot(level);
        open = open.slice(0, changed);
        for (const [level, { group }] of levels.entries()) {
          if (level < changed) continue;
          const band = bands.groups[level]?.header as Band;
          const speaks: Speaks = { cells, totals: null, page: null };
          open.push({ totals: new Totals(asked), cells });
          yield {
            ...plain,
            block: this.lay(band, 'group_header', level, speaks),
            holdsNext: group.keepsHeading,
            startsPage: group.startsPage && i > 0,
            within: level,
            again: this.lay(band, 'group_header', level, speaks, { isAgain: true }),
          };
        }
      }
      const adds = addsOf(asked, cells);
      all.add(adds);
      for (const each of open) each.totals.add(adds);
      const block = this.lay(bands.row, 'row', i, { cells, totals: null, page: null }, { mostHeight: highest });
      yield { ...plain, block, within: levels.length };
      before = cells;
    }
    for (let level = open.length - 1; level >= 0; level -= 1) yield foot(level);
    if (rows.length === 0) yield { ...plain, block: this.lay(bands.nothing, 'report_footer', 0) };
    yield {
      ...plain,
      block: this.lay(bands.reportFooter, 'report_footer', 0, { cells: [], totals: all, page: null }, { mostHeight: highest }),
      holdsBefore: true,
    };
  }

  /** How high the headings stand when they are said again, or 0 when they would leave too little room for rows. */
  private againHeight(headings: readonly Block[]): number {
    const height = headings.reduce((sum, heading) => sum + heading.height, 0);
    return this.body - height < fewestLines ? 0 : height;
  }

  /** A page with its headings; on the first those of the report stand over them. */
  private startPage(): void {
    const isFirst = this.pages.length === 0;
    this.pages.push([]);
    this.y = this.sheet.paper.margin;
    if (isFirst) this.put(this.lay(this.bands.reportHeader, 'report_header', 0, nothingSaid, { mostHeight: this.body }));
    this.put(this.pageHeader);
    // What does not fit below the head of the report goes to the next page.
    this.isFresh = !isFirst;
  }

  private put(block: Block): void {
    const { margin } = this.sheet.paper;
    const page = this.pages.at(-1) as Box[];
    for (const box of block.boxes) page.push(moved(box, margin, this.y));
    this.y += block.height;
    this.isFresh = false;
  }

  private get room(): number {
    return this.sheet.paper.margin + this.pageHeader.height + this.body - this.y;
  }

  /** A further page, with the headings of the groups that go on. */
  private turn(within: number): void {
    this.startPage();
    const again = this.open.slice(0, within);
    if (this.againHeight(again) > 0) for (const block of again) this.put(block);
    this.isFresh = true;
  }

  /**
   * Puts blocks that hold each other on a page. When one page is too small for all of them they part: totals go to the
   * next page before a heading loses its row. True when a page was turned.
   */
  place(unit: readonly Flowing[]): boolean {
    const [first, ...rest] = unit;
    if (first === undefined) return false;
    const pages = this.pages.length;
    const slack = 1e-6;
    const fits = (): boolean => unit.reduce((sum, flowing) => sum + flowing.block.height, 0) <= this.room + slack;
    if ((first.startsPage || !fits()) && !this.isFresh) this.turn(first.within);
    if (rest.length === 0 || fits()) {
      for (const flowing of unit) {
        this.put(flowing.block);
        if (flowing.again !== null) this.open = [...this.open.slice(0, flowing.within), flowing.again];
      }
    } else if (unit.at(-1)?.holdsBefore === true) {
      this.place(unit.slice(0, -1));
      this.place(unit.slice(-1));
    } else {
      this.place([first]);
      this.place(rest);
    }
    return this.pages.length > pages;
  }

  /** The pages, each with its foot: only now it is known how many there are. */
  finish(): readonly Page[] {
    const { paper } = this.sheet;
    const of = this.pages.length;
    return this.pages.map((boxes, i): Page => {
      const foot = this.lay(this.bands.pageFooter, 'page_footer', 0, { ...nothingSaid, page: { number: i + 1, of } });
      return { number: i + 1, boxes: [...boxes, ...foot.boxes.map((box) => moved(box, paper.margin, paper.height - paper.margin - this.footHeight))] };
    });
  }
}

function moved(box: Box, x: number, y: number): Box {
  if (box.kind !== 'text') return { ...box, x: box.x + x, y: box.y + y };
  return { ...box, x: box.x + x, y: box.y + y, lines: box.lines.map((line) => ({ ...line, x: line.x + x, baseline: line.baseline + y })) };
}
