/** Keeps files in the database, in parts: one backup holds everything, and a part is all that is ever in memory. */
import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import type { DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { runOwn } from '../db/own.js';
import type { FileStore } from './store.js';

/** In bytes. */
const partSize = 512 * 1024;
const insert = `INSERT INTO bibliona.file_part (key, place, bytes) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING`;
const select = `SELECT bytes FROM bibliona.file_part WHERE key = $1 AND place = $2`;

export function postgresStore(database: DataSource): FileStore {
  return {
    put: (key, path) =>
      inTransaction(database, async (_, runner) => {
        let index = 0;
        for await (const bytes of createReadStream(path, { highWaterMark: partSize })) {
          await runOwn(runner, 'keep part of file', insert, [key, index, bytes]);
          index += 1;
        }
      }),
    read: async (key) => {
      const all = parts(database, key);
      // The first part tells whether there is any.
      const first = await all.next();
      if (first.done === true) throw new Error(`Nothing is kept under ${key}`);
      return Readable.from(joined(first.value, all), { objectMode: false });
    },
    remove: async (keys) => {
      await runOwn(database, 'remove files', 'DELETE FROM bibliona.file_part WHERE key = ANY($1)', [keys]);
    },
  };
}

async function* joined(first: Buffer, rest: AsyncGenerator<Buffer>): AsyncGenerator<Buffer> {
  yield first;
  yield* rest;
}

/** No connection is held while a slow reader takes a part. */
async function* parts(database: DataSource, key: string): AsyncGenerator<Buffer> {
  for (let index = 0; ; index += 1) {
    const [part] = await runOwn<{ bytes: Buffer }>(database, 'read part of file', select, [key, index]);
    if (part === undefined) return;
    yield part.bytes;
    if (part.bytes.length < partSize) return;
  }
}
