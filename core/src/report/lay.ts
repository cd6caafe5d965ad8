/** Lays a band out: its words broken into lines, its boxes in their places, its height known. */
import { printTyped } from '../fields/computed.js';
import { totalShown } from '../query/saved.js';
import { drawnAs } from '../fields/kinds.js';
import type { Value } from '../fields/value.js';
import type { Locale } from '../values/locale.js';
import type { Band, Cell, Content, ReportColumn } from './band.js';
import type { BandAt, Box, DrawingBox, Measure, Style, TextBox, TextLine } from './page.js';
import type { Totals } from './totals.js';

/** What the cells of a band speak of. */
export interface Speaks {
  readonly cells: readonly Value[];
  readonly totals: Totals | null;
  readonly page: { readonly number: number; readonly of: number } | null;
}

/** What laying out needs to know of the paper's fonts and its reader. */
export interface Means {
  readonly measure: Measure;
  readonly locale: Locale;
}

/** A band with its height; its boxes are placed from the left margin and its own upper edge. */
export interface Block {
  readonly band: BandAt;
  readonly height: number;
  readonly boxes: readonly Box[];
}

const emptyWord = 'empty';

const printed = (column: ReportColumn, value: Value, locale: Locale): string =>
  column.drawn === undefined ? printTyped(column, value, locale) : (drawnAs(column.drawn)?.words(value, locale) ?? '');

/** What a cell says in words, and for a total its exact value. */
function words(content: Content, speaks: Speaks, isAgain: boolean, locale: Locale): { readonly text: string; readonly total: string | null } {
  const plain = (text: string) => ({ text, total: null });
  switch (content.kind) {
    case 'text':
      return plain(content.text);
    case 'heading':
      return plain(content.column.name);
    case 'field':
      return plain(printed(content.column, speaks.cells[content.place] ?? null, locale));
    case 'group': {
      const value = speaks.cells[content.place] ?? null;
      const name = value === null ? `${content.column.name}: ${emptyWord}` : printed(content.column, value, locale);
      return plain(isAgain ? `${name} (continued)` : name);
    }
    case 'count': {
      const rows = speaks.totals?.rows ?? 0;
      const many = `${locale.count(rows)} ${rows === 1 ? 'row' : 'rows'}`;
      if (content.column === null) return { text: `All · ${many}`, total: String(rows) };
      const value = speaks.cells[content.place] ?? null;
      return { text: `${value === null ? emptyWord : printed(content.column, value, locale)} · ${many}`, total: String(rows) };
    }
    case 'total': {
      const total = speaks.totals?.of(content.place) ?? null;
      return { text: printTyped(totalShown(content.column, content.summary), total, locale), total };
    }
    case 'page':
      return plain(speaks.page === null ? '' : `Page ${locale.count(speaks.page.number)} of ${locale.count(speaks.page.of)}`);
    default:
      return content satisfies never;
  }
}

interface Broken {
  readonly lines: readonly string[];
  readonly fit: TextBox['fit'];
}

/** As many characters from the beginning as fit in; one at least. Characters are not taken apart. */
function fitting(text: string, width: number, style: Style, measure: Measure, end = ''): string {
  const characters = [...text];
  let [low, high] = [1, characters.length];
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if (measure(characters.slice(0, middle).join('') + end, style) <= width) low = middle;
    else high = middle - 1;
  }
  return characters.slice(0, low).join('');
}

// What is not one space between words: it is made to one when a text is broken.
const oddSpace = /^\s|\s$|\s\s|[^\S ]/u;

/** A text in lines no wider than `width`, broken between words and only where there is no other way within one. */
export function broken(text: string, width: number, mostLines: number, style: Style, measure: Measure): Broken {
  // Most texts are short: they need not be taken apart.
  if (!oddSpace.test(text) && measure(text, style) <= width) return { lines: [text], fit: 'whole' };
  const lines: string[] = [];
  let isBroken = false;
  for (const paragraph of text.split(/\r\n|\r|\n/u)) {
    let line = '';
    for (const word of paragraph.split(/\s+/u)) {
      if (word === '') continue;
      const longer = line === '' ? word : `${line} ${word}`;
      if (measure(longer, style) <= width) {
        line = longer;
        continue;
      }
      if (line !== '') lines.push(line);
      line = word;
      while (measure(line, style) > width && [...line].length > 1) {
        const part = fitting(line, width, style, measure);
        lines.push(part);
        line = line.slice(part.length);
        isBroken = true;
      }
      // What lies beyond the lines that are shown need not be broken.
      if (lines.length > mostLines) break;
    }
    lines.push(line);
    if (lines.length > mostLines) break;
  }
  while (lines.length > 1 && lines.at(-1) === '') lines.pop();
  if (lines.length <= mostLines) return { lines, fit: isBroken ? 'broken' : 'whole' };
  const last = `${lines[mostLines - 1] ?? ''} ${lines[mostLines] ?? ''}`.trim();
  const shown = measure(`${last}…`, style) <= width ? last : fitting(last, width, style, measure, '…').trimEnd();
  return { lines: [...lines.slice(0, mostLines - 1), `${shown}…`], fit: 'cut' };
}

/** How much of a line lies over its baseline, as a part of its height: the type is in the middle of its line. */
const baselineAt = (style: Style): number => (style.leading - style.size) / 2 + style.size * 0.8;

/** Lays out a band no higher than `mostHeight` points; what does not fit in is cut at the end of a line. */
export function layBand(band: Band, at: BandAt, speaks: Speaks, means: Means, width: number, mostHeight = Number.POSITIVE_INFINITY): Block {
  const boxes: Box[] = [];
  let y = 0;
  const rule = (height: number): void => {
    if (height === 0) return;
    boxes.push({ kind: 'rule', band: at, x: 0, y, width, height });
    y += height;
  };
  rule(band.ruleAbove);
  y += band.above;
  const foot = band.below + band.ruleBelow;
  for (const cells of band.lines) {
    const drawings = cells.flatMap((cell) => drawingIn(cell, at, y, speaks, mostHeight - y - foot) ?? []);
    const laid = cells.map((cell) => {
      // The words of a drawing are below it.
      const above = drawings.find((drawn) => drawn.x === cell.x)?.height ?? 0;
      return layCell(cell, at, y + above, speaks, means, mostHeight - y - above - foot);
    });
    if (laid.some((box) => box === null)) {
      // There is no room for this line and those after it; what is said of it is with the last that has a place.
      const last = boxes.at(-1);
      if (last?.kind === 'text') boxes[boxes.length - 1] = { ...last, fit: 'cut' };
      break;
    }
    for (const drawn of drawings) boxes.push(drawn);
    for (const box of laid) if (box !== null && box.lines.length > 0) boxes.push(box);
    y = Math.max(y, ...laid.map((box) => (box === null ? 0 : box.y + box.height)));
  }
  y += band.below;
  rule(band.ruleBelow);
  return { band: at, height: y, boxes };
}

/** Widest that a drawing becomes, in points. */
const widestDrawing = 120;

/** What is drawn in a cell; null where nothing is, and where there is no room for it and a line of words. */
function drawingIn({ x, width, content, style }: Cell, band: BandAt, y: number, speaks: Speaks, room: number): DrawingBox | null {
  if (content.kind !== 'field' || content.column.drawn === undefined) return null;
  const drawing = drawnAs(content.column.drawn)?.drawing(speaks.cells[content.place] ?? null) ?? null;
  if (drawing === null) return null;
  const drawn = Math.min(width, widestDrawing);
  const height = (drawn * drawing.height) / drawing.width;
  return height + style.leading > room ? null : { kind: 'drawing', band, x, y, width: drawn, height, drawing };
}

function layCell(cell: Cell, at: BandAt, y: number, speaks: Speaks, { measure, locale }: Means, room: number): TextBox | null {
  const { style, content } = cell;
  const mostLines = Math.min(cell.mostLines, Math.floor((room + 1e-6) / style.leading));
  if (mostLines < 1) return null;
  const { text, total } = words(content, speaks, at.isAgain, locale);
  const { lines, fit } = broken(text, cell.width, mostLines, style, measure);
  const laid = lines.map((line, i): TextLine => {
    const width = measure(line, style);
    return { text: line, x: cell.align === 'right' ? cell.x + cell.width - width : cell.x, baseline: y + i * style.leading + baselineAt(style), width };
  });
  return {
    kind: 'text',
    band: at,
    x: cell.x,
    y,
    width: cell.width,
    height: lines.length * style.leading,
    style,
    lines: laid,
    column: content.kind === 'text' || content.kind === 'page' || content.kind === 'count' ? null : content.column.id,
    fit,
    total,
  };
}
