import { expect, test } from 'vitest';
import { Refusal } from '../src/http/refusal.js';
import { Share } from '../src/http/shares.js';

const limits = { inAll: 4, perApp: 3, perPerson: 2, mostWaiting: 2, patience: 50 };
const settled = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

test('one person and one app never have all of it, and the request that waits longest begins first', async () => {
  const share = new Share({ ...limits, patience: 5000 });
  const begun: string[] = [];
  const ends = new Map<string, () => void>();
  const enter = (name: string, app: string, person: string): void => {
    void share.enter({ app, person }).then((end) => {
      begun.push(name);
      ends.set(name, end);
    });
  };
  enter('a1', 'honey', 'ada');
  enter('a2', 'honey', 'ada');
  enter('a3', 'honey', 'ada');
  enter('b1', 'honey', 'bede');
  enter('b2', 'honey', 'bede');
  enter('c1', 'stage', 'cara');
  await settled();
  expect(begun).toEqual(['a1', 'a2', 'b1', 'c1']);
  ends.get('c1')?.();
  await settled();
  // There is room in all, and none in the app.
  expect(begun).toHaveLength(4);
  ends.get('b1')?.();
  await settled();
  expect(begun[4]).toBe('b2');
  ends.get('a1')?.();
  ends.get('a1')?.();
  await settled();
  expect(begun[5]).toBe('a3');
});

test('a request that waits too long, or behind too many, is refused for now', async () => {
  const share = new Share(limits);
  const end = await share.enter({ app: 'honey', person: 'ada' });
  await share.enter({ app: 'honey', person: 'ada' });
  const third = share.enter({ app: 'honey', person: 'ada' });
  const fourth = share.enter({ app: 'honey', person: 'ada' });
  await expect(share.enter({ app: 'honey', person: 'ada' })).rejects.toThrow('Too many requests are waiting');
  await expect(third).rejects.toBeInstanceOf(Refusal);
  await expect(fourth).rejects.toThrow('The server is busy');
  end();
  await share.enter({ app: 'honey', person: 'ada' });
});
