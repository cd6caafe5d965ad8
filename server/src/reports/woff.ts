/**
 * A WOFF file as the font that it packs, so that it is unpacked once and not for each document.
 * After the W3C's WOFF File Format 1.0, sections 3 to 5.
 */
import { inflateSync } from 'node:zlib';

const woff = { signature: 0x77_4f_46_46, head: 44, entry: 20 };
const sfnt = { head: 12, entry: 16 };
const aligned = (length: number): number => Math.ceil(length / 4) * 4;

/** The same bytes where they are no WOFF file. */
export function unpackedFont(file: Buffer): Buffer {
  if (file.readUInt32BE(0) !== woff.signature) return file;
  const count = file.readUInt16BE(12);
  const tables = Array.from({ length: count }, (_, i) => {
    const at = woff.head + i * woff.entry;
    const [offset, packed, length] = [file.readUInt32BE(at + 4), file.readUInt32BE(at + 8), file.readUInt32BE(at + 12)];
    const bytes = file.subarray(offset, offset + packed);
    return { tag: file.subarray(at, at + 4), checksum: file.readUInt32BE(at + 16), bytes: packed < length ? inflateSync(bytes) : bytes };
  });

  const font = Buffer.alloc(sfnt.head + count * sfnt.entry + tables.reduce((sum, { bytes }) => sum + aligned(bytes.length), 0));
  file.copy(font, 0, 4, 8);
  font.writeUInt16BE(count, 4);
  // Where a binary search of the tables starts; section 5 says how it is computed.
  const halves = Math.floor(Math.log2(count));
  font.writeUInt16BE(2 ** halves * 16, 6);
  font.writeUInt16BE(halves, 8);
  font.writeUInt16BE(count * 16 - 2 ** halves * 16, 10);
  let offset = sfnt.head + count * sfnt.entry;
  tables.forEach(({ tag, checksum, bytes }, i) => {
    const at = sfnt.head + i * sfnt.entry;
    tag.copy(font, at);
    font.writeUInt32BE(checksum, at + 4);
    font.writeUInt32BE(offset, at + 8);
    font.writeUInt32BE(bytes.length, at + 12);
    bytes.copy(font, offset);
    offset += aligned(bytes.length);
  });
  return font;
}
