/** Draws the pages of a report as PDF: the same boxes that the preview shows. */
import PDFDocument from 'pdfkit';
import type { DrawingBox, Paper, ReportPage, TextBox } from '@bibliona/core';
import { measure, runsOf, type PaperFont } from './fonts.js';

// Paper is white, and the quiet tone is dark enough for a poor printer.
const tones: Readonly<Record<TextBox['style']['tone'], string>> = { ink: '#24211b', quiet: '#5b5446' };
const ruleTone = '#857b69';

/** The part of pdfkit's document through which it sets type; not in its own types. */
interface Setting {
  readonly _font: { readonly font: { layout: (text: string) => unknown } };
}

class Drawing {
  private readonly known = new Set<PaperFont>();
  constructor(private readonly document: PDFKit.PDFDocument) {}

  private use(font: PaperFont): void {
    if (!this.known.has(font)) this.document.registerFont(font.name, font.data);
    this.document.font(font.name);
    if (this.known.has(font)) return;
    this.known.add(font);
    // Set by the widths by which it was measured. Measured besides: letting the font shape each text anew takes nine times as long.
    (this.document as unknown as Setting)._font.font.layout = (text) => {
      const placed = [...text].map((character) => font.place(character).glyph);
      const positions = placed.map((glyph) => ({ xAdvance: glyph.advanceWidth, yAdvance: 0, xOffset: 0, yOffset: 0 }));
      return { glyphs: placed, positions, advanceWidth: placed.reduce((sum, glyph) => sum + glyph.advanceWidth, 0) };
    };
  }

  page({ boxes }: ReportPage): void {
    for (const box of boxes) {
      if (box.kind === 'rule') this.document.rect(box.x, box.y, box.width, box.height).fill(ruleTone);
      else if (box.kind === 'drawing') this.drawing(box);
      else this.text(box);
    }
  }

  private drawing({ x, y, width, drawing }: DrawingBox): void {
    const scale = width / drawing.width;
    this.document.save().translate(x, y).scale(scale).path(drawing.path).lineWidth(2).lineCap('round').lineJoin('round').stroke(tones.ink).restore();
  }

  private text({ lines, style }: TextBox): void {
    this.document.fontSize(style.size).fillColor(tones[style.tone]);
    for (const line of lines) {
      let { x } = line;
      for (const { font, text } of runsOf(line.text, style.face)) {
        this.use(font);
        this.document.text(text, x, line.baseline, { lineBreak: false, baseline: 'alphabetic' });
        x += measure(text, style);
      }
    }
  }
}

export interface Printed {
  readonly title: string;
  readonly author: string;
  readonly at: Date;
}

/**
 * Yields after each page; the document ends by itself when all are drawn, and earlier when nobody reads it any more.
 * @param onDrawn told how many pages are drawn
 */
export function* drawPages(
  document: PDFKit.PDFDocument,
  pages: readonly ReportPage[],
  paper: Paper,
  onDrawn?: (count: number) => void,
): Generator<undefined, void> {
  const drawing = new Drawing(document);
  for (const [at, page] of pages.entries()) {
    if (document.destroyed) return;
    document.addPage({ size: [paper.width, paper.height], margin: 0 });
    drawing.page(page);
    onDrawn?.(at + 1);
    yield undefined;
  }
  document.end();
}

/** A document that streams what is drawn into it. */
export const openPdf = ({ title, author, at }: Printed): PDFKit.PDFDocument =>
  new PDFDocument({ autoFirstPage: false, info: { Title: title, Author: author, Creator: 'Bibliona', CreationDate: at }, lang: 'en', displayTitle: true });
