/** The typefaces of report paper: how wide their characters are, and how PDF draws them. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { create, type Font, type Glyph } from 'fontkit';
import type { Face, Measure } from '@bibliona/core';
import { unpackedFont } from './woff.js';

const require = createRequire(import.meta.url);
const file = (path: string): Buffer => unpackedFont(readFileSync(require.resolve(path)));

// What the first font of a face does not have is drawn with the next one: Latin, further Latin, and what else is written.
const files: Readonly<Record<Face, readonly string[]>> = {
  text: [
    '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff',
    '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-400-normal.woff',
    'dejavu-fonts-ttf/ttf/DejaVuSansCondensed.ttf',
  ],
  bold: [
    '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff',
    '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-700-normal.woff',
    'dejavu-fonts-ttf/ttf/DejaVuSansCondensed-Bold.ttf',
  ],
  title: [
    '@fontsource/literata/files/literata-latin-600-normal.woff',
    '@fontsource/literata/files/literata-latin-ext-600-normal.woff',
    'dejavu-fonts-ttf/ttf/DejaVuSerifCondensed-Bold.ttf',
  ],
};

interface Placed {
  readonly glyph: Glyph;
  /** As a part of the size of the type. */
  readonly width: number;
}

/** A font that sets character by character: figures all of one width, nothing pulled together, so that columns align. */
export class PaperFont {
  private readonly font: Font;
  private readonly placed = new Map<string, Placed>();

  constructor(
    readonly name: string,
    readonly data: Buffer,
  ) {
    this.font = create(data) as Font;
  }

  has(character: string): boolean {
    return this.font.hasGlyphForCodePoint(character.codePointAt(0) ?? 0);
  }

  place(character: string): Placed {
    let known = this.placed.get(character);
    if (known === undefined) {
      const glyph = this.font.layout(character, { tnum: true }).glyphs[0] as Glyph;
      this.placed.set(character, (known = { glyph, width: glyph.advanceWidth / this.font.unitsPerEm }));
    }
    return known;
  }
}

class PaperFace {
  private readonly fonts: readonly PaperFont[];
  private readonly chosen = new Map<string, PaperFont>();

  private readonly last: PaperFont;

  constructor(face: Face) {
    this.fonts = files[face].map((path, i) => new PaperFont(`${face}${i}`, file(path)));
    const last = this.fonts.at(-1);
    if (last === undefined) throw new TypeError(`The face ${face} has no font`);
    this.last = last;
  }

  /** The font that has the character; where none has, the last one's sign for that. */
  fontOf(character: string): PaperFont {
    let known = this.chosen.get(character);
    if (known === undefined) {
      known = this.fonts.find((font) => font.has(character)) ?? this.last;
      this.chosen.set(character, known);
    }
    return known;
  }
}

const faces = new Map<Face, PaperFace>();
function faceOf(face: Face): PaperFace {
  let known = faces.get(face);
  if (known === undefined) faces.set(face, (known = new PaperFace(face)));
  return known;
}

export const measure: Measure = (text, { face, size }) => {
  const own = faceOf(face);
  let width = 0;
  for (const character of text) width += own.fontOf(character).place(character).width;
  return width * size;
};

/** Whether every character of the text can be drawn. */
export const hasSigns = (text: string, face: Face): boolean => {
  const own = faceOf(face);
  for (const character of text) if (!own.fontOf(character).has(character)) return false;
  return true;
};

/** The text in parts that are each of one font. */
export function runsOf(text: string, face: Face): readonly { readonly font: PaperFont; readonly text: string }[] {
  const own = faceOf(face);
  const runs: { font: PaperFont; text: string }[] = [];
  for (const character of text) {
    const font = own.fontOf(character);
    const last = runs.at(-1);
    if (last?.font === font) last.text += character;
    else runs.push({ font, text: character });
  }
  return runs;
}
