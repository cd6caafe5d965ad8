/** What is doubtful about pages as they came out: asked of the boxes on them, not of how they were made. */
import type { Face, Page, TextBox } from './page.js';

export interface PageFinding {
  readonly kind: 'bare_heading' | 'cut' | 'broken' | 'no_sign';
  /** The column whose text has too little room; null for words around the rows and for headings. */
  readonly column: string | null;
  /** How often, and on which page first. */
  readonly times: number;
  readonly page: number;
}

/**
 * Headings that stand bare at the foot of a page, texts that are too long for their places, and characters for which
 * the typefaces of the paper have no sign.
 */
export function checkPages(pages: readonly Page[], hasSigns: (text: string, face: Face) => boolean): readonly PageFinding[] {
  const found = new Map<string, { -readonly [K in keyof PageFinding]: PageFinding[K] }>();
  const add = (kind: PageFinding['kind'], column: string | null, page: number): void => {
    const key = `${kind} ${column ?? ''}`;
    const known = found.get(key);
    if (known === undefined) found.set(key, { kind, column, times: 1, page });
    else known.times += 1;
  };
  for (const page of pages) {
    const texts = page.boxes.filter((box): box is TextBox => box.kind === 'text');
    for (const box of texts) {
      if (box.fit !== 'whole') add(box.fit, box.column, page.number);
      if (!box.lines.every((line) => hasSigns(line.text, box.style.face))) add('no_sign', box.column, page.number);
    }
    const flowing = texts.filter(({ band }) => band.kind !== 'page_header' && band.kind !== 'page_footer');
    const lowest = flowing.reduce<TextBox | null>((last, box) => (last === null || box.y >= last.y ? box : last), null);
    if (lowest?.band.kind === 'group_header') add('bare_heading', null, page.number);
  }
  return [...found.values()];
}

/** How many rows are on the pages: a row that is printed twice, or in two parts, counts twice. */
export function rowsOnPaper(pages: readonly Page[]): number {
  let rows = 0;
  for (const page of pages) {
    const here = new Set<number>();
    for (const { kind, band } of page.boxes) if (kind === 'text' && band.kind === 'row') here.add(band.at);
    rows += here.size;
  }
  return rows;
}

/** The totals at the end of the report, as they are on the paper, by column. */
export function totalsOnPaper(pages: readonly Page[]): ReadonlyMap<string, string | null> {
  const totals = new Map<string, string | null>();
  for (const page of pages)
    for (const box of page.boxes) if (box.kind === 'text' && box.band.kind === 'report_footer' && box.column !== null) totals.set(box.column, box.total);
  return totals;
}
