/** What is on paper: pages of boxes. Lengths are in points, 1/72 inch, from the upper left corner, as in PDF. */
import type { Drawing } from '../fields/kind.js';
import type { Report } from '../design/report.js';

export type Face = 'text' | 'bold' | 'title';

export interface Style {
  readonly face: Face;
  /** Size of the type and distance of its lines, in points. */
  readonly size: number;
  readonly leading: number;
  readonly tone: 'ink' | 'quiet';
}

/** The width of a text in points. */
export type Measure = (text: string, style: Style) => number;

export type BandKind = 'report_header' | 'page_header' | 'group_header' | 'row' | 'group_footer' | 'report_footer' | 'page_footer';

/** Which strip of the page a box belongs to. */
export interface BandAt {
  readonly kind: BandKind;
  /** Of a row: its place among the rows. Of a group: how deep it stands, the outermost 0. Else 0. */
  readonly at: number;
  /** A heading that is said again because its group goes on, on a further page. */
  readonly isAgain: boolean;
}

export interface TextLine {
  readonly text: string;
  readonly x: number;
  readonly baseline: number;
  readonly width: number;
}

export interface TextBox {
  readonly kind: 'text';
  readonly band: BandAt;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly style: Style;
  readonly lines: readonly TextLine[];
  /** The column of the rows that it shows; null for what is said around them. */
  readonly column: string | null;
  /** `cut`: there is more of the text than its place holds. `broken`: a word had to be broken to fit in. */
  readonly fit: 'whole' | 'broken' | 'cut';
  /** Of a total, the exact value. */
  readonly total: string | null;
}

/** A ruled line. */
export interface RuleBox {
  readonly kind: 'rule';
  readonly band: BandAt;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Strokes, drawn in a place with the shape of their own box. */
export interface DrawingBox {
  readonly kind: 'drawing';
  readonly band: BandAt;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly drawing: Drawing;
}

export type Box = TextBox | RuleBox | DrawingBox;

export interface Page {
  /** From 1. */
  readonly number: number;
  readonly boxes: readonly Box[];
}

export interface Paper {
  readonly width: number;
  readonly height: number;
  /** Empty on each side. */
  readonly margin: number;
}

// ISO 216 and ANSI/ASME Y14.1, in points.
const sizes: Readonly<Record<Report['paper']['size'], readonly [number, number]>> = { a4: [595.28, 841.89], letter: [612, 792] };
const margin = 42;

export function paperOf({ size, turned }: Report['paper']): Paper {
  const [short, long] = sizes[size];
  return turned ? { width: long, height: short, margin } : { width: short, height: long, margin };
}
