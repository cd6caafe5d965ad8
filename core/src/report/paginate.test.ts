import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Report } from '../design/report.js';
import { Decimal, digitsOf } from '../feel/value.js';
import type { Value } from '../fields/value.js';
import type { ReportColumn } from './band.js';
import { checkPages as check, rowsOnPaper, totalsOnPaper } from './check-pages.js';
import { broken } from './lay.js';
import { paperOf, type Measure, type Page, type Paper, type Style, type TextBox } from './page.js';
import { layOut } from './paginate.js';
import { standardLocale } from '../values/locale.js';

/** Every character is half as wide as it is high. */
const measure: Measure = (text, style) => [...text].length * style.size * 0.5;
const checkPages = (pages: readonly Page[]) => check(pages, (text) => !text.includes('養'));
const columns: readonly ReportColumn[] = [
  { id: 'site', name: 'Site', type: 'string', digits: null, unit: null },
  { id: 'hive', name: 'Hive', type: 'string', digits: null, unit: null },
  { id: 'kilos', name: 'Kilos', type: 'number', digits: 1, unit: null },
  { id: 'note', name: 'Note', type: 'string', digits: null, unit: null },
  { id: 'signed', name: 'Signed', type: 'string', digits: null, unit: null, drawn: 'signature' },
];
const report = (more: Partial<Report> = {}): Report =>
  Report.parse({
    id: 'harvest',
    name: 'Harvest',
    source: { kind: 'query', query: 'any' },
    fields: [{ column: 'hive' }, { column: 'kilos', total: 'sum' }, { column: 'note', share: 16 }],
    ...more,
  });
const around = { app: 'Quillmoor', printed: '3 May 2026' };
const a4 = paperOf({ size: 'a4', turned: false });
const pagesOf = (rows: readonly (readonly Value[])[], more: Partial<Report> = {}, paper: Paper = a4): readonly Page[] =>
  layOut({ report: report(more), columns, rows, paper, around, measure, locale: standardLocale() });
const texts = (page: Page | undefined, kind?: string): string[] =>
  (page?.boxes ?? []).flatMap((box) => (box.kind === 'text' && (kind === undefined || box.band.kind === kind) ? box.lines.map((line) => line.text) : []));
const rowsOf = (many: number, site = 'Ottermere'): Value[][] => Array.from({ length: many }, (_, i) => [site, `H-${i}`, '1.5', null]);

describe('a report', () => {
  test('says its headings on every page, and which page it is of how many', () => {
    const pages = pagesOf(rowsOf(120));
    expect(pages.length).toBeGreaterThan(2);
    for (const page of pages) {
      expect(texts(page, 'page_header')).toEqual(['Hive', 'Kilos', 'Note']);
      expect(texts(page, 'page_footer')).toEqual(['Quillmoor', '3 May 2026', `Page ${page.number} of ${pages.length}`]);
    }
    expect(texts(pages[0], 'report_header')).toEqual(['Harvest']);
    expect(texts(pages[1], 'report_header')).toEqual([]);
  });

  test('summarises each group under it, inner groups first, and everything at the end', () => {
    const rows = [
      ['A', 'H-1', '1.25', null],
      ['A', 'H-2', null, null],
      ['B', 'H-3', '0.1', null],
      ['B', 'H-3', '0.2', null],
    ];
    const [page] = pagesOf(rows, { groups: [{ column: 'site', direction: 'up', startsPage: false, keepsHeading: true }] });
    expect(texts(page, 'group_header')).toEqual(['A', 'B']);
    expect(texts(page, 'group_footer')).toEqual(['A · 2 rows', '1.2', 'B · 2 rows', '0.3']);
    expect(texts(page, 'report_footer')).toEqual(['All · 4 rows', '1.6']);
    expect(totalsOnPaper([page as Page]).get('kilos')).toBe('1.55');
  });

  test('begins a group on a page of its own when it is told to, and says the heading again where it goes on', () => {
    const rows = [...rowsOf(70, 'A'), ...rowsOf(3, 'B')];
    const pages = pagesOf(rows, { groups: [{ column: 'site', direction: 'up', startsPage: true, keepsHeading: true }] });
    expect(pages.map((page) => texts(page, 'group_header'))).toEqual([['A'], ['A (continued)'], ['B']]);
  });

  test('never leaves a heading bare, unless it is told to: then the pages are found doubtful', () => {
    const group = { column: 'site', direction: 'up', startsPage: false } as const;
    // As many rows before the second heading as bring it to the foot of the page in one of the cases.
    const found = (keepsHeading: boolean) =>
      Array.from({ length: 60 }, (_, n) => checkPages(pagesOf([...rowsOf(n), ...rowsOf(9, 'B')], { groups: [{ ...group, keepsHeading }] }))).flat();
    expect(found(true)).toEqual([]);
    expect(found(false)).toContainEqual({ kind: 'bare_heading', column: null, times: 1, page: 1 });
  });

  test('says where a text is too long for its place', () => {
    const long = ['A', 'Pneumonoultramicroscopicsilicovolcanoconiosis', '1', 'much to say '.repeat(30)];
    const fields = report().fields.map((field) => ({ ...field, wraps: field.column === 'hive' }));
    const found = checkPages(pagesOf([long, long], { fields }));
    expect(checkPages(pagesOf([['A', '養蜂', '1', null]]))).toEqual([{ kind: 'no_sign', column: 'hive', times: 1, page: 1 }]);
    expect(found).toEqual([
      { kind: 'broken', column: 'hive', times: 2, page: 1 },
      { kind: 'cut', column: 'note', times: 2, page: 1 },
    ]);
  });

  test('cuts a row that is higher than a page, and says so', () => {
    const pages = pagesOf([['A', 'H-1', '1', 'word '.repeat(5000)]], { groups: [{ column: 'site', direction: 'up', startsPage: false, keepsHeading: true }] });
    expect(rowsOnPaper(pages)).toBe(1);
    expect(checkPages(pages)).toMatchObject([{ kind: 'cut', column: 'note' }]);
  });

  test('sets the fields of a row below each other in blocks, with their names', () => {
    const [page] = pagesOf([['A', 'H-1', '2', 'calm']], { arrangement: 'blocks' });
    expect(texts(page, 'row')).toEqual(['Hive', 'H-1', 'Kilos', '2.0', 'Note', 'calm']);
    expect(texts(page, 'report_footer')).toEqual(['All · 1 row', 'Sum of Kilos', '2.0']);
  });

  test('of no rows says so, on one page', () => {
    const pages = pagesOf([]);
    expect(pages).toHaveLength(1);
    expect(texts(pages[0])).toContain('The report has no rows.');
  });
});

const style: Style = { face: 'text', size: 10, leading: 12, tone: 'ink' };
test('a text is broken between words, and within one only when it must be', () => {
  const lines = (text: string, most = 9): readonly string[] => broken(text, 50, most, style, measure).lines;
  expect(lines('one two three four')).toEqual(['one two', 'three four']);
  expect(lines('abcdefghijkl mn')).toEqual(['abcdefghij', 'kl mn']);
  expect(lines('one\ntwo')).toEqual(['one', 'two']);
  expect(broken('one two three four five', 50, 1, style, measure)).toEqual({ lines: ['one two t…'], fit: 'cut' });
  expect(broken('', 50, 1, style, measure)).toEqual({ lines: [''], fit: 'whole' });
});

const cell = fc.oneof({ weight: 4, arbitrary: fc.string({ maxLength: 30 }) }, { weight: 1, arbitrary: fc.lorem({ maxCount: 60 }) }, fc.constant(null));
/** Numbers as they travel. */
const amounts = fc.integer({ min: -1e7, max: 1e7 }).map((n) => digitsOf(new Decimal(n).div(100)));
const anyRow = fc.tuple(fc.constantFrom('A', 'B', null), fc.constantFrom('x', 'y'), fc.option(amounts), cell);
const anyPaper = fc.record({ width: fc.integer({ min: 300, max: 900 }), height: fc.integer({ min: 260, max: 900 }), margin: fc.integer({ min: 10, max: 60 }) });
const anyReport = fc.record({
  arrangement: fc.constantFrom('columns', 'blocks'),
  groups: fc
    .constantFrom([], ['site'], ['site', 'hive'])
    .chain((ids) =>
      fc.tuple(
        ...ids.map((column) => fc.record({ column: fc.constant(column), direction: fc.constant('up'), startsPage: fc.boolean(), keepsHeading: fc.boolean() })),
      ),
    ),
  wraps: fc.boolean(),
  share: fc.integer({ min: 1, max: 40 }),
});
const order = (a: readonly Value[], b: readonly Value[]): number => String(a[0]).localeCompare(String(b[0])) || String(a[1]).localeCompare(String(b[1]));

test('whatever the rows and the paper: every row is on one page, no box leaves it or lies over another, sums are those of the rows', () => {
  fc.assert(
    fc.property(fc.array(anyRow, { maxLength: 120 }), anyPaper, anyReport, (rows, paper, { wraps, share, ...more }) => {
      const fields = report().fields.map((field) => ({ ...field, wraps, share: field.column === 'note' ? share : 8 }));
      const sorted = [...rows].sort(order);
      const pages = pagesOf(sorted, { ...(more as Partial<Report>), fields }, paper);
      const seen = pages.map((page) => new Set(page.boxes.flatMap((box) => (box.band.kind === 'row' ? [box.band.at] : []))));
      expect(seen.flatMap((page) => [...page]).sort((a, b) => a - b)).toEqual(rows.map((_, i) => i));
      for (const page of pages) {
        for (const box of page.boxes) {
          expect(box.x).toBeGreaterThanOrEqual(paper.margin - 1e-6);
          expect(box.y).toBeGreaterThanOrEqual(paper.margin - 1e-6);
          expect(box.x + box.width).toBeLessThanOrEqual(paper.width - paper.margin + 1e-6);
          expect(box.y + box.height).toBeLessThanOrEqual(paper.height - paper.margin + 1e-6);
        }
        expect(overlapping(page)).toBeNull();
      }
      const filled = rows.flatMap(([, , kilos]) => (kilos === null ? [] : [kilos]));
      const sum = filled.length === 0 ? null : digitsOf(filled.reduce((total, kilos) => total.plus(kilos), new Decimal(0)));
      const grand = totalsOnPaper(pages);
      if (grand.has('kilos')) expect(grand.get('kilos')).toBe(sum);
      expect(groupSums(pages)).toBe(more.groups.length === 0 ? null : sum);
    }),
    { numRuns: 150 },
  );
});

/** The sums under the outermost groups, taken together. */
function groupSums(pages: readonly Page[]): string | null {
  const sums = pages.flatMap((page) =>
    page.boxes.flatMap((box) =>
      box.kind === 'text' && box.band.kind === 'group_footer' && box.band.at === 0 && box.column === 'kilos' && box.total !== null ? [box.total] : [],
    ),
  );
  return sums.length === 0 ? null : digitsOf(sums.reduce((total, sum) => total.plus(sum), new Decimal(0)));
}

function overlapping(page: Page): readonly [TextBox, TextBox] | null {
  const boxes = page.boxes.filter((box): box is TextBox => box.kind === 'text').sort((a, b) => a.y - b.y);
  for (const [i, box] of boxes.entries()) {
    for (const other of boxes.slice(i + 1)) {
      if (other.y >= box.y + box.height - 1e-6) break;
      if (other.x < box.x + box.width - 1e-6 && box.x < other.x + other.width - 1e-6) return [box, other];
    }
  }
  return null;
}

test('a signature is drawn above who signed and when, its row is as high, and no page cuts it', () => {
  const signed = 'M10 50L150 20L290 80\nAda Roke\n2026-09-14T08:30:00Z';
  const rows = Array.from({ length: 40 }, (_, i): Value[] => ['A', `H-${i}`, '1', null, i % 2 === 0 ? signed : null]);
  const fields = ['hive', 'signed'].map((column) => ({ column, share: 6, wraps: true, total: null }));
  const pages = pagesOf(rows, { fields });
  const boxes = pages.flatMap((page) => page.boxes);
  const drawn = boxes.filter((box) => box.kind === 'drawing');
  expect(drawn).toHaveLength(20);
  expect(rowsOnPaper(pages)).toBe(40);
  for (const page of pages)
    for (const box of page.boxes) {
      if (box.kind !== 'drawing') continue;
      expect(box.width / box.height).toBeCloseTo(3);
      expect(box.y + box.height).toBeLessThan(a4.height - a4.margin);
      const words = page.boxes.filter(
        (each): each is TextBox => each.kind === 'text' && each.column === 'signed' && each.band.at === box.band.at && each.band.kind === 'row',
      );
      expect(words.map((word) => word.lines.map((line) => line.text).join(' '))).toEqual(['Ada Roke, 14 Sep 2026, 08:30']);
      expect(words[0]?.y).toBeGreaterThanOrEqual(box.y + box.height);
      // What is in other rows of the page is above or below it.
      const others = page.boxes.filter((each) => each.kind === 'text' && each.band.kind === 'row' && each.band.at !== box.band.at);
      for (const other of others) expect(other.y + other.height <= box.y + 1e-6 || other.y >= box.y + box.height).toBe(true);
    }
  expect(checkPages(pages).filter((finding) => finding.kind === 'cut')).toEqual([]);
});
