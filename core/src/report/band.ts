/** What a band of a report is: a strip of a page, with what is in it from left to right. */
import type { ShownNumber } from '../fields/computed.js';
import type { ReportField } from '../design/report.js';
import type { FieldKind } from '../fields/kinds.js';
import type { Summary } from '../design/saved-query.js';
import type { BandKind, Style } from './page.js';

/** A column of the rows. */
export interface ReportColumn extends ShownNumber {
  readonly id: string;
  readonly name: string;
  /** The kind of its type in the expression language. */
  readonly type: string;
  /** The kind of field whose drawings are in it; absent: none. */
  readonly drawn?: FieldKind | undefined;
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
  /** How many rows are above, called by the value that they share or as all of them. */
  | { readonly kind: 'count'; readonly column: ReportColumn | null; readonly place: number }
  | { readonly kind: 'page' };

export interface Cell {
  readonly x: number;
  readonly width: number;
  readonly align: 'left' | 'right';
  readonly style: Style;
  readonly content: Content;
  /** A text goes on in at most so many lines. */
  readonly mostLines: number;
}

export interface Band {
  readonly kind: BandKind;
  /** Cells beside each other; each list is below the one before. */
  readonly lines: readonly (readonly Cell[])[];
  /** Empty above and below what it says, in points. */
  readonly above: number;
  readonly below: number;
  /** Thickness of the rule over and under it; 0: none. */
  readonly ruleAbove: number;
  readonly ruleBelow: number;
}

const style = (face: Style['face'], size: number, leading: number, tone: Style['tone'] = 'ink'): Style => ({ face, size, leading, tone });
export const styles = {
  title: style('title', 20, 25),
  description: style('text', 9.5, 13, 'quiet'),
  heading: style('bold', 8.5, 11, 'quiet'),
  group: style('title', 12, 16),
  innerGroup: style('bold', 10, 14),
  row: style('text', 9, 12),
  total: style('bold', 9, 12),
  label: style('text', 8, 12, 'quiet'),
  foot: style('text', 8, 10, 'quiet'),
} as const;

/** Between two cells, in points. */
export const gap = 8;
export const manyLines = 200;
export const headingLines = 3;

/** A field with its column and its place on the paper. */
export interface Placed {
  readonly field: ReportField;
  readonly column: ReportColumn;
  readonly place: number;
  readonly x: number;
  readonly width: number;
}

export const band = (kind: BandKind, lines: Band['lines'], more: Partial<Omit<Band, 'kind' | 'lines'>> = {}): Band => ({
  kind,
  lines,
  above: 0,
  below: 0,
  ruleAbove: 0,
  ruleBelow: 0,
  ...more,
});

const isRight = (column: ReportColumn): boolean => column.type === 'number';

export const cellOf = (placed: Placed, content: Content, look: Style, mostLines: number): Cell => ({
  x: placed.x,
  width: placed.width,
  align: isRight(placed.column) ? 'right' : 'left',
  style: look,
  content,
  mostLines,
});
