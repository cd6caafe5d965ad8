/** Reads a file as rows, once through, in constant memory. */
import { createReadStream } from 'node:fs';
import { open, stat } from 'node:fs/promises';
import { standardLocale, RowSplitter, sniffDelimiter, sniffEncoding, type Delimiter, type Encoding } from '@bibliona/core';

/** Raised when the file is not what an import can read; the message is for the person who chose the file. */
export class FileUnreadable extends Error {}

/** Raised when a file taken for UTF-8 is not: it is then read again as windows-1252. */
class NotUtf8 extends Error {}

export interface FileStart {
  readonly encoding: Encoding;
  readonly delimiter: Delimiter;
  readonly size: number;
}

const chunkSize = 256 * 1024;

/** Looks at the first part of a file. `wanted` are the answers a person has given already. */
export async function startOf(
  path: string,
  wanted: { readonly encoding?: Encoding | undefined; readonly delimiter?: Delimiter | undefined },
): Promise<FileStart> {
  const { size } = await stat(path);
  if (size === 0) throw new FileUnreadable('The file is empty.');
  const file = await open(path);
  try {
    const head = Buffer.alloc(Math.min(size, chunkSize));
    await file.read(head, 0, head.length, 0);
    const sort = sniffEncoding(head);
    if (sort.kind === 'not_text') throw new FileUnreadable(sort.says);
    const encoding = wanted.encoding ?? sort.encoding;
    const sample = new TextDecoder(encoding).decode(head);
    if (/^\uFEFF?\s*(?:\{\s*"|\[\s*[{["])/u.test(sample)) throw new FileUnreadable('This is a JSON file. Save it as CSV and choose it again.');
    const lastLine = size > head.length ? Math.max(sample.lastIndexOf('\n'), sample.lastIndexOf('\r')) : sample.length;
    return { encoding, delimiter: wanted.delimiter ?? sniffDelimiter(sample.slice(0, lastLine < 0 ? sample.length : lastLine + 1)), size };
  } finally {
    await file.close();
  }
}

/** Called after each part of the file with the rows in it; the next part waits for it. */
type OnRows = (rows: readonly string[][], lines: readonly number[], bytesRead: number) => Promise<void>;

/**
 * Goes through the file. Text that is not valid in its encoding is an error for UTF-8, and impossible for the others.
 * @throws NotUtf8, QuoteNeverClosed, FileUnreadable
 */
export async function readRows(path: string, start: FileStart, onRows: OnRows): Promise<void> {
  const decoder = new TextDecoder(start.encoding, { fatal: start.encoding === 'utf-8' });
  let rows: string[][] = [];
  let lines: number[] = [];
  const splitter = new RowSplitter(start.delimiter, (cells, line) => {
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
      const text = decode(buffer.subarray(0, bytesRead));
      if (text.includes('\0')) throw new FileUnreadable('The file holds characters (NUL) that are not text. Save it as CSV again.');
      splitter.push(text);
      await onRows(rows, lines, read);
      rows = [];
      lines = [];
    }
    splitter.push(decode(undefined));
    splitter.end();
    await onRows(rows, lines, read);
  } finally {
    await file.close();
  }
}

/**
 * Runs `read` as UTF-8 and, when the file turns out not to be, once more as windows-1252, in which every byte is a letter. A
 * file that is UTF-8 but for a few bytes stays UTF-8: read otherwise, every other special letter in it would be wrong.
 */
export async function withEncoding<T>(path: string, start: FileStart, isChosen: boolean, read: (start: FileStart) => Promise<T>): Promise<T> {
  try {
    return await read(start);
  } catch (error) {
    if (!(error instanceof NotUtf8)) throw error;
    const { letters, wrong, line } = await utf8Signs(path);
    if (isChosen || letters > wrong)
      throw new FileUnreadable(`Line ${standardLocale().count(line)} holds a byte that is not UTF-8. Correct it in the file, or choose another encoding.`);
    return read({ ...start, encoding: 'windows-1252' });
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
