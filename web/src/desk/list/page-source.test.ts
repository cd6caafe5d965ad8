import type { RecordAnswer } from '@bibliona/core';
import { expect, test } from 'vitest';
import { pageSource } from './page-source.js';

const all: RecordAnswer[] = Array.from({ length: 1234 }, (_, i) => ({ id: i + 1, rev: 1, values: {} }));

function counting() {
  const asked: number[] = [];
  const read = pageSource(({ limit, after }) => {
    const from = after === undefined ? 0 : (JSON.parse(after) as { id: number }).id;
    asked.push(from);
    const records = all.slice(from, from + limit);
    return Promise.resolve({ records, next: from + limit < all.length ? { value: null, id: from + limit } : null });
  });
  return { read, asked };
}

test('blocks come in order and the end is told', async () => {
  const { read } = counting();
  expect((await read(0, 100)).rows[0]?.id).toBe(1);
  expect(await read(100, 200)).toMatchObject({ last: undefined });
  const end = await read(1200, 1300);
  expect(end.rows.map((row) => row.id)).toEqual(all.slice(1200).map((row) => row.id));
  expect(end.last).toBe(1234);
});

test('a block that was let go is read again at once, a far one is walked to in long steps', async () => {
  const { read, asked } = counting();
  await read(0, 100);
  await read(100, 200);
  await read(100, 200);
  expect(asked).toEqual([0, 100, 100]);
  await read(1000, 1100);
  expect(asked.slice(3)).toEqual([200, 700, 1000]);
});

test('beyond the end there is nothing', async () => {
  const { read } = counting();
  expect(await read(5000, 5100)).toEqual({ rows: [], last: 1234 });
});
