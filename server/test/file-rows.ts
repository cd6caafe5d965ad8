/** What an import reads in a file. */
import { randomUUID } from 'node:crypto';
import { rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ReadingChoice } from '@bibliona/core';
import { startOf, type FileStart } from '../src/imports/formats/index.js';

/** Opens bytes as a file for as long as `work` takes. */
export async function withFile<T>(bytes: Uint8Array, work: (start: FileStart) => Promise<T>, wanted: ReadingChoice = {}): Promise<T> {
  const path = join(tmpdir(), `bibliona-${randomUUID()}`);
  await writeFile(path, bytes);
  try {
    return await work(await startOf(path, wanted));
  } finally {
    await rm(path);
  }
}

export const rowsOf = (bytes: Uint8Array, wanted: ReadingChoice = {}): Promise<string[][]> =>
  withFile(
    bytes,
    async (start) => {
      const all: string[][] = [];
      await start.rows(async (rows) => void all.push(...rows));
      return all;
    },
    wanted,
  );
