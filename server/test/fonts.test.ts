import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { create, type Font } from 'fontkit';
import { expect, test } from 'vitest';
import { unpackedFont } from '../src/reports/woff.js';

const require = createRequire(import.meta.url);
const read = (path: string) => readFileSync(require.resolve(path));
const drawn = (file: Buffer) => {
  const font = create(file) as Font;
  return [font.numGlyphs, font.unitsPerEm, ...'Hive 12 äöß'.split('').map((sign) => font.glyphForCodePoint(sign.codePointAt(0) ?? 0).path.toSVG())];
};

test.each([
  '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff',
  '@fontsource/literata/files/literata-latin-600-normal.woff',
])('%s draws the same when it is unpacked', (path) => {
  const unpacked = unpackedFont(read(path));
  expect(unpacked.readUInt32BE(0)).toBe(0x0001_0000);
  expect(drawn(unpacked)).toEqual(drawn(read(path)));
});

test('a font that is not packed is taken as it is', () => {
  const file = read('dejavu-fonts-ttf/ttf/DejaVuSansCondensed.ttf');
  expect(unpackedFont(file)).toBe(file);
});
