import type { Cursor, RecordAnswer } from '@bibliona/core';
import { expect, test } from 'vitest';
import { pageSource } from './page-source.js';

function counting(count: number, hasFirst = false) {
  const all: RecordAnswer[] = Array.from({ length: count }, (_, i) => ({ id: i + 1, rev: 1, values: {} }));
  const asked: string[] = [];
  const placeOf = (after: string | undefined): number => (after === undefined ? 0 : (JSON.parse(after) as { id: number }).id);
  const cursor = (at: number): Cursor => ({ value: null, id: at });
  const { read, first } = pageSource({
    first: hasFirst ? { records: all.slice(0, 100), next: count > 100 ? cursor(100) : null } : undefined,
    page: ({ limit, after }) => {
      const from = placeOf(after);
      asked.push(`${limit} from ${from}`);
      return Promise.resolve({ records: all.slice(from, from + limit), next: from + limit < all.length ? cursor(from + limit) : null });
    },
    place: ({ skip, after }) => {
      const from = placeOf(after);
      asked.push(`skip ${skip} from ${from}`);
      const skipped = Math.min(skip, all.length - from);
      return Promise.resolve({ skipped, next: skipped === 0 ? null : cursor(from + skipped) });
    },
  });
  return { all, read, first, asked };
}

test('blocks come in order and the end is told', async () => {
  const { all, read } = counting(1234);
  expect((await read(0, 100)).rows[0]?.id).toBe(1);
  expect(await read(100, 200)).toMatchObject({ last: undefined });
  const end = await read(1200, 1300);
  expect(end.rows.map((row) => row.id)).toEqual(all.slice(1200).map((row) => row.id));
  expect(end.last).toBe(1234);
});

test('a block that was let go is read again at once, a far one is skipped to', async () => {
  const { read, asked } = counting(1_000_000);
  await read(0, 100);
  await read(100, 200);
  await read(100, 200);
  expect(asked).toEqual(['100 from 0', '100 from 100', '100 from 100']);
  await read(50_000, 50_100);
  expect(asked.slice(3)).toEqual(['skip 20000 from 200', 'skip 20000 from 20200', 'skip 9800 from 40200', '100 from 50000']);
  await read(999_900, 1_000_000);
  // What was skipped before is not skipped again.
  expect(asked.slice(7)[0]).toBe('skip 20000 from 50100');
  expect(asked.slice(7)).toHaveLength(49);
});

test('beyond the end there is nothing', async () => {
  const { read } = counting(1234);
  expect(await read(5000, 5100)).toEqual({ rows: [], last: 1234 });
  expect(await read(1234, 1300)).toEqual({ rows: [], last: 1234 });
});

test('a first page that has come is a block, and the next one follows it', async () => {
  const { all, first, read, asked } = counting(1234, true);
  expect(first).toEqual({ rows: all.slice(0, 100), last: undefined });
  expect((await read(100, 200)).rows).toEqual(all.slice(100, 200));
  expect(asked).toEqual(['100 from 100']);
  expect(counting(40, true).first).toMatchObject({ last: 40 });
  expect(counting(40).first).toBeUndefined();
});
