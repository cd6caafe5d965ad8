/** A file on disk, recognised by what is in it. */
import { open, stat } from 'node:fs/promises';
import type { FileFormatName, ReadingChoice } from '@bibliona/core';
import { chunkSize, FileUnreadable, type FileStart, type FormatReader } from './format.js';
import { json } from './json.js';
import { text } from './text.js';
import { workbook } from './workbook.js';

export { FileUnreadable, type FileStart } from './format.js';

// In this order: what is none of the others is text, or nothing that can be read.
const formats: Readonly<Record<FileFormatName, FormatReader>> = { workbook, json, text };

/** Looks at the first part of a file. `wanted` are the answers a person has given already. @throws FileUnreadable */
export async function startOf(path: string, wanted: ReadingChoice): Promise<FileStart> {
  const { size } = await stat(path);
  if (size === 0) throw new FileUnreadable('The file is empty.');
  const head = Buffer.alloc(Math.min(size, chunkSize));
  const file = await open(path);
  try {
    await file.read(head, 0, head.length, 0);
  } finally {
    await file.close();
  }
  const reader = Object.values(formats).find((format) => format.isOne(head)) ?? text;
  return reader.begin({ path, size, head }, wanted);
}

/** Runs `read` and, where the format knows of another way to begin after an error, once more. */
export async function attempt<T>(start: FileStart, read: (start: FileStart) => Promise<T>): Promise<T> {
  try {
    return await read(start);
  } catch (error) {
    const other = (await start.again?.(error)) ?? null;
    if (other === null) throw error;
    return read(other);
  }
}
