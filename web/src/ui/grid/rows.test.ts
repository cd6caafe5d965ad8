import { expect, test, vi } from 'vitest';
import { Rows, type Block } from './rows.js';

interface Row {
  readonly id: number;
  readonly text: string;
}

/** A source of `count` rows that answers when it is told to. */
function source(count: { now: number }) {
  const asked: { readonly start: number; readonly answer: () => void; readonly fail: () => void }[] = [];
  const failures: unknown[] = [];
  let round = 0;
  const rows = new Rows<Row>({
    read: (start, end) =>
      new Promise<Block<Row>>((resolve, reject) => {
        const here = Array.from({ length: Math.max(0, Math.min(end, count.now) - start) }, (_, i) => ({ id: start + i + 1, text: `${start + i} of ${round}` }));
        asked.push({
          start,
          answer: () => resolve({ rows: here, last: end >= count.now ? count.now : undefined }),
          fail: () => reject(new Error('The server does not answer.')),
        });
      }),
    idOf: (row) => row.id,
    onFailure: (error) => failures.push(error),
  });
  const settle = async (how: 'answer' | 'fail' = 'answer'): Promise<number | undefined> => {
    const next = asked.shift();
    next?.[how]();
    await new Promise((resolve) => setTimeout(resolve, 0));
    return next?.start;
  };
  return { rows, asked, failures, settle, nextRound: () => (round += 1) };
}

test('only what is in view is read, one block after another, and the newest view first', async () => {
  const { rows, asked, settle } = source({ now: 1000 });
  rows.show({ first: 0, end: 30 });
  rows.show({ first: 510, end: 540 });
  expect(asked.length).toBe(1);
  expect(await settle()).toBe(0);
  expect(await settle()).toBe(500);
  expect(asked).toEqual([]);
  expect([rows.at(0)?.id, rows.at(512)?.id, rows.at(200)]).toEqual([1, 513, undefined]);
});

test('the length is what was counted until the end has been seen', async () => {
  const count = { now: 250 };
  const { rows, settle } = source(count);
  expect(rows.length(240)).toBe(240);
  rows.show({ first: 0, end: 150 });
  await settle();
  await settle();
  // More was seen than was counted.
  expect(rows.length(120)).toBe(201);
  rows.show({ first: 190, end: 260 });
  await settle();
  expect(rows.length(120)).toBe(250);
  count.now = 200;
  rows.refresh();
  await settle();
  await settle();
  expect(rows.length(250)).toBe(200);
});

test('a refresh shows what was there until the new rows have come, and reads again what was on its way', async () => {
  const { rows, asked, settle, nextRound } = source({ now: 50 });
  rows.show({ first: 0, end: 30 });
  await settle();
  rows.refresh();
  expect(rows.at(3)?.text).toBe('3 of 0');
  nextRound();
  rows.refresh();
  // This answer was asked for before the second refresh.
  await settle();
  expect(asked.length).toBe(1);
  await settle();
  expect(rows.at(3)?.text).toBe('3 of 1');
});

test('a failure is told once, and it is tried again when the person says so', async () => {
  const { rows, asked, failures, settle } = source({ now: 50 });
  rows.show({ first: 0, end: 30 });
  await settle('fail');
  rows.show({ first: 5, end: 35 });
  expect([failures.length, asked.length]).toEqual([1, 0]);
  rows.refresh();
  await settle();
  expect(rows.at(0)?.id).toBe(1);
});

test('memory stays bounded, and the first rows stay', async () => {
  const { rows, settle } = source({ now: 100_000 });
  for (let at = 0; at < 60; at += 1) {
    rows.show({ first: at * 100, end: at * 100 + 30 });
    await settle();
  }
  const held = Array.from({ length: 60 }, (_, at) => rows.at(at * 100)).filter((row) => row !== undefined);
  expect(held.length).toBe(30);
  expect(rows.at(0)?.id).toBe(1);
  expect(rows.at(5_900)?.id).toBe(5_901);
});

test('a row is replaced wherever it is, and who listens is told', async () => {
  const { rows, settle } = source({ now: 10 });
  rows.show({ first: 0, end: 10 });
  await settle();
  let told = 0;
  const stop = rows.subscribe(() => (told += 1));
  rows.replace({ id: 4, text: 'new' });
  expect([told, rows.at(3)?.text, rows.find(4)?.index, rows.find(77)]).toEqual([1, 'new', 3, null]);
  stop();
  rows.replace({ id: 4, text: 'newer' });
  expect(told).toBe(1);
});

test('rows of a span come from what is here and is true, and are read else', async () => {
  const { rows, asked, settle, nextRound } = source({ now: 150 });
  rows.show({ first: 0, end: 30 });
  await settle();
  const loaded = rows.load({ first: 98, end: 152 });
  expect(await settle()).toBe(100);
  const all = await loaded;
  expect(all.map((row) => row?.id)).toEqual([...Array.from({ length: 52 }, (_, i) => 99 + i), undefined, undefined]);
  // What is to be read again is not taken for true.
  rows.refresh();
  nextRound();
  const again = rows.load({ first: 0, end: 1 });
  while (asked.length > 0) await settle();
  expect((await again)[0]?.text).toBe('0 of 1');
});

test('rows that are here already are shown at once, and read again when something has changed', async () => {
  const read = vi.fn<() => Promise<Block<Row>>>(() => Promise.resolve({ rows: [{ id: 1, text: 'changed' }], last: 1 }));
  const rows = new Rows<Row>({ first: { rows: [{ id: 1, text: 'as it came' }], last: 1 }, read, idOf: (row) => row.id, onFailure: () => undefined });
  rows.show({ first: 0, end: 30 });
  expect([rows.at(0)?.text, rows.length(500), read.mock.calls.length]).toEqual(['as it came', 1, 0]);
  rows.refresh();
  await vi.waitFor(() => expect(rows.at(0)?.text).toBe('changed'));
});
