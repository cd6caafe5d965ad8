/** The diagram as a picture to save: the whole of it at full size, light, whatever of it is in sight. */
import { shownTables, type DiagramNote, type Table, type Tone } from '@bibliona/core';
import {
  cardHeight,
  cardWidth,
  headHeight,
  keyFields,
  linesOf,
  linesOfNote,
  note as noteSize,
  rowHeight,
  type Box,
  type Layout,
  type Line,
  type Point,
} from './diagram-layout.js';
import { endOf, pathOf, ringSize, wordsAt } from './line-ends.js';
import { namedIn, type DrawnDesign } from './drawn-design.js';

/** As the light theme has them (`look/base.css`). */
const ink = { sheet: '#fbf8f1', card: '#fffefb', text: '#24211b', quiet: '#5b5446', rule: '#dcd3c1', line: '#857b69', words: '#1d4f3c' } as const;
const toneInk: Readonly<Record<Tone, string>> = {
  green: '#285345',
  gold: '#b38408',
  red: '#7f0d0c',
  blue: '#5c68bb',
  teal: '#489ba9',
  violet: '#4f3265',
  olive: '#647345',
  grey: '#988e83',
};
const letters = `font-family="'Atkinson Hyperlegible Next', Verdana, sans-serif"`;
const titles = `font-family="Literata, Georgia, serif"`;
const [margin, headroom] = [32, 44];
/** In pixels, of a letter: a name that is longer than its card is cut. */
const [small, large] = [6.6, 7.6];

const escaped = (text: string): string => text.replace(/[&<>"']/gu, (sign) => `&#${sign.codePointAt(0)};`).replace(/\p{Cc}/gu, ' ');
const cut = (text: string, room: number, letter: number): string => {
  const most = Math.floor(room / letter);
  return text.length <= most ? text : `${text.slice(0, Math.max(most - 1, 1))}…`;
};

export interface Picture {
  readonly svg: string;
  /** In pixels. */
  readonly width: number;
  readonly height: number;
}

/** @param countOf how many records a table has, as it is printed */
export function pictureOf(design: DrawnDesign, { cards, lines, sections, notes, bounds }: Layout, countOf: (table: string) => string): Picture {
  const [width, height] = [Math.ceil(bounds.width + 2 * margin), Math.ceil(bounds.height + 2 * margin + headroom)];
  const drawn = [
    ...[...sections].map(([name, box]) => sectionOf(name, design.sections.find((section) => section.name === name)?.tone ?? 'grey', box)),
    ...linesOf(design).map((line) => lineOf(line, lines.get(line.id) ?? [])),
    ...shownTables(design).map((table) => cardOf(design, table, cards.get(table.id) ?? { x: 0, y: 0 }, countOf(table.id))),
    ...design.notes.flatMap((note) => noteOf(note, notes.get(note.id))),
  ];
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">
<title>${escaped(design.name)}</title>
<rect width="${width}" height="${height}" fill="${ink.sheet}"/>
<text x="${margin}" y="${margin + 8}" ${titles} font-size="20" font-weight="600" fill="${ink.text}">${escaped(design.name)}</text>
<g transform="translate(${margin - bounds.x} ${margin + headroom - bounds.y})">
${drawn.join('\n')}
</g>
</svg>
`;
  return { svg, width, height };
}

function tinted({ x, y, width, height }: Box, tone: Tone, dashes: string): string {
  const at = `x="${x}" y="${y}" width="${width}" height="${height}" rx="3"`;
  // Opaque: what lies below does not shine through.
  return `<rect ${at} fill="${ink.sheet}"/><rect ${at} fill="${toneInk[tone]}" fill-opacity="0.08" stroke="${toneInk[tone]}" stroke-opacity="0.6"${dashes}/>`;
}

const sectionOf = (name: string, tone: Tone, box: Box): string =>
  `${tinted(box, tone, ' stroke-dasharray="4 3"')}<text x="${box.x + 12}" y="${box.y + 21}" ${letters} font-size="13" font-weight="600" fill="${ink.quiet}">${escaped(cut(name, box.width - 24, small))}</text>`;

function noteOf({ text, tone }: DiagramNote, box: Box | undefined): readonly string[] {
  if (box === undefined) return [];
  const lines = linesOfNote(text).map(
    (line, row) =>
      `<text x="${box.x + noteSize.edge}" y="${box.y + noteSize.edge + row * noteSize.line + 13}" ${letters} font-size="13" fill="${ink.text}">${escaped(line)}</text>`,
  );
  return [tinted(box, tone, ''), ...lines];
}

function lineOf({ ends, label }: Line, points: readonly Point[]): string {
  const [first, last] = [points[0], points.at(-1)];
  if (first === undefined || last === undefined) return '';
  const marks = [endOf(first, ends[0], 1), endOf(last, ends[1], -1)];
  const rings = marks.map(({ ring }) => (ring === null ? '' : `<circle cx="${ring.x}" cy="${ring.y}" r="${ringSize}" fill="${ink.sheet}"/>`));
  const at = wordsAt(points, label, true);
  // A stroke of the paper around the words keeps the line out of them.
  const words =
    at === null
      ? ''
      : `<text x="${at.x}" y="${at.y + 4}" ${titles} font-size="13" font-style="italic" text-anchor="middle" fill="${ink.words}" stroke="${ink.sheet}" stroke-width="6" paint-order="stroke">${escaped(label)}</text>`;
  return `<g fill="none" stroke="${ink.line}" stroke-width="1.2"><path d="${pathOf(points)}${marks.map(({ path }) => path).join('')}"/>${rings.join('')}</g>${words}`;
}

function cardOf(design: DrawnDesign, table: Table, { x, y }: Point, count: string): string {
  const [width, height] = [cardWidth(design, table), cardHeight(table)];
  const [shown, named] = [keyFields(design, table), namedIn(design, table)];
  const more = table.fields.length - shown.length;
  const room = width - 34;
  const rows = [
    ...shown.map((field) => ({
      text: cut(field.name, room, small),
      look: named.includes(field) ? `font-weight="700" fill="${ink.text}"` : `fill="${ink.text}"`,
    })),
    ...(more > 0 ? [{ text: `and ${more} more`, look: `fill="${ink.quiet}"` }] : []),
  ];
  const texts = rows.map(
    ({ text, look }, row) => `<text x="${x + 24}" y="${y + headHeight + row * rowHeight + 18}" ${letters} font-size="13" ${look}>${escaped(text)}</text>`,
  );
  const name = cut(table.name, width - 28 - count.length * small, large);
  return `<rect x="${x}" y="${y}" width="${width}" height="${height}" rx="2" fill="${ink.card}" stroke="${ink.line}"/>
<path d="M${x} ${y + headHeight - 1}h${width}" stroke="${ink.rule}"/>
<text x="${x + 10}" y="${y + 20}" ${titles} font-size="14" font-weight="600" fill="${ink.text}">${escaped(name)}</text>
<text x="${x + width - 8}" y="${y + 20}" ${letters} font-size="12" text-anchor="end" fill="${ink.quiet}">${escaped(count)}</text>
${texts.join('\n')}`;
}

/** No side of a picture in dots is longer: browsers draw none. */
const longest = 8192;

/** The same in dots, two for each pixel where it is not too large for that. @throws Error when the browser can't draw it */
export async function inDots({ svg, width, height }: Picture): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await image.decode();
  const scale = Math.min(2, longest / width, longest / height);
  const canvas = Object.assign(document.createElement('canvas'), { width: Math.round(width * scale), height: Math.round(height * scale) });
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) => {
    canvas.toBlob((blob) => (blob === null ? reject(new Error('This diagram is too large for a PNG.')) : resolve(blob)), 'image/png');
  });
}
