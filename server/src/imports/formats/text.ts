/** Delimited text, once through, in constant memory. */
import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { RowSplitter, sniffDelimiter, sniffEncoding, standardLocale, type Delimiter, type Encoding } from '@bibliona/core';
import { chunkSize, FileUnreadable, type FileStart, type FormatReader, type OnRows } from './format.js';

/** Raised when a file taken for UTF-8 is not: it is then read again as windows-1252. */
class NotUtf8 extends Error {}

export const text: FormatReader = {
  isOne: () => true,
  begin: async ({ path, size, head }, wanted) => {
    const sort = sniffEncoding(head);
    if (sort.kind === 'not_text') throw new FileUnreadable(sort.problem);
    const encoding = wanted.encoding ?? sort.encoding;
    const sample = new TextDecoder(encoding).decode(head);
    const lastLine = size > head.length ? Math.max(sample.lastIndexOf('\n'), sample.lastIndexOf('\r')) : sample.length;
    const delimiter = wanted.delimiter ?? sniffDelimiter(sample.slice(0, lastLine < 0 ? sample.length : lastLine + 1));
    return startOf(path, size, encoding, delimiter, wanted.encoding !== undefined);
  },
};

function startOf(path: string, size: number, encoding: Encoding, delimiter: Delimiter, isChosen: boolean): FileStart {
  return {
    reading: { format: 'text', encoding, delimiter, part: '', range: '' },
    parts: [],
    headingAt: () => null,
    rows: (onRows) => readRows(path, size, encoding, delimiter, onRows),
    again: async (error) => {
      if (!(error instanceof NotUtf8)) return null;
      const { letters, wrong, line } = await utf8Signs(path);
      // A file that is UTF-8 but for a few bytes stays UTF-8: read otherwise, every other special letter in it would be wrong.
      if (isChosen || letters > wrong)
        throw new FileUnreadable(`Line ${standardLocale().count(line)} holds a byte that is not UTF-8. Correct it in the file, or choose another encoding.`);
      return startOf(path, size, 'windows-1252', delimiter, true);
    },
  };
}

/**
 * Goes through the file. Text that is not valid in its encoding is an error for UTF-8, and impossible for the others.
 * @throws NotUtf8, QuoteNeverClosed, RowTooLong, FileUnreadable
 */
async function readRows(path: string, size: number, encoding: Encoding, delimiter: Delimiter, onRows: OnRows): Promise<void> {
  const decoder = new TextDecoder(encoding, { fatal: encoding === 'utf-8' });
  let rows: string[][] = [];
  let lines: number[] = [];
  const splitter = new RowSplitter(delimiter, (cells, line) => {
    rows.push(cells);
    lines.push(line);
  });
  const decode = (bytes: Uint8Array | undefined): string => {
    try {
      return decoder.decode(bytes, { stream: bytes !== undefined });
    } catch {
      throw new NotUtf8('not UTF-8');
    }
  };
  const file = await open(path);
  try {
    const buffer = Buffer.alloc(chunkSize);
    let read = 0;
    for (;;) {
      const { bytesRead } = await file.read(buffer, 0, chunkSize, read);
      if (bytesRead === 0) break;
      read += bytesRead;
      const part = decode(buffer.subarray(0, bytesRead));
      if (part.includes('\0')) throw new FileUnreadable('The file holds characters (NUL) that are not text. Save it as CSV again.');
      splitter.push(part);
      await onRows(rows, lines, read / size);
      rows = [];
      lines = [];
    }
    splitter.push(decode(undefined));
    splitter.end();
    await onRows(rows, lines, 1);
  } finally {
    await file.close();
  }
}

/** How many letters of several bytes a file has as UTF-8 (RFC 3629), how many bytes are wrong in it, and the line of the first. */
async function utf8Signs(path: string): Promise<{ readonly letters: number; readonly wrong: number; readonly line: number }> {
  let [letters, wrong, line, wrongLine, due] = [0, 0, 1, 0, 0];
  const isWrong = (): void => {
    wrong += 1;
    if (wrongLine === 0) wrongLine = line;
    due = 0;
  };
  for await (const chunk of createReadStream(path, { highWaterMark: chunkSize }) as AsyncIterable<Buffer>)
    for (const byte of chunk) {
      if (due > 0 && byte >> 6 === 0b10) {
        due -= 1;
        if (due === 0) letters += 1;
        continue;
      }
      if (due > 0) isWrong();
      if (byte === 10) line += 1;
      if (byte < 0x80) continue;
      due = byte >= 0xc2 && byte <= 0xdf ? 1 : byte >> 4 === 0b1110 ? 2 : byte >= 0xf0 && byte <= 0xf4 ? 3 : 0;
      if (due === 0) isWrong();
    }
  return { letters, wrong, line: wrongLine === 0 ? line : wrongLine };
}
