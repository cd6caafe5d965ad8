import type { Field, RecordAnswer } from '@bibliona/core';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { emptied, filledDown, pastedInto, type CellsOf } from './cells.js';

const field = (id: string): Field => ({ id, kind: 'text', name: id }) as Field;
const record = (id: number, more: Partial<RecordAnswer> = {}): RecordAnswer => ({ id, rev: 1, values: { a: `a${id}`, b: `b${id}` }, ...more });
const [a, b] = [field('a'), field('b')];
const all: CellsOf = { records: [record(1), record(2), record(3)], fields: [a, null, b], width: 3, canEdit: () => true };
const brief = (given: ReturnType<typeof pastedInto>): readonly string[] =>
  given.map((each) => `${each.field.id}${each.record.id}=${'text' in each.value ? each.value.text : String(each.value.same)}`);

describe('cells that are pasted', () => {
  test.each<[pasted: string[][], of: Partial<CellsOf>, given: string[]]>([
    [[['x']], {}, ['a1=x', 'b1=x', 'a2=x', 'b2=x', 'a3=x', 'b3=x']],
    [[['x']], { width: 1 }, ['a1=x', 'a2=x', 'a3=x']],
    // What is computed takes its place among the columns, and is left as it is.
    [[['x', 'y', 'z']], { records: [record(1)] }, ['a1=x', 'b1=z']],
    // Beyond the block as far as they reach, and beyond the grid not.
    [[['x', 'y', 'z', 'w']], { records: [record(1)], width: 1 }, ['a1=x', 'b1=z']],
    [[['x'], ['y']], { records: [record(1), record(2)] }, ['a1=x', 'a2=y']],
    // Again and again over a block that is higher.
    [[['x'], ['y']], { records: [record(1), record(2), record(3), record(4)] }, ['a1=x', 'a2=y', 'a3=x', 'a4=y']],
    [[['x'], ['y']], { records: [record(1), undefined] }, ['a1=x']],
    [[['x'], ['y']], { records: [record(1), record(2)], canEdit: (each) => each.id === 2 }, ['a2=y']],
  ])('%j into %j', (pasted, of, given) => {
    expect(brief(pastedInto({ ...all, ...of }, pasted))).toEqual(given);
  });
});

describe('cells that are filled down', () => {
  test('are those of the first row, in all the others', () => {
    expect(brief(filledDown(all))).toEqual(['a2=a1', 'b2=b1', 'a3=a1', 'b3=b1']);
    expect(brief(filledDown({ ...all, width: 2 }))).toEqual(['a2=a1', 'a3=a1']);
  });
  test('are never made of a text that is shown in part', () => {
    expect(brief(filledDown({ ...all, records: [record(1, { cut: ['a'] }), record(2)] }))).toEqual(['b2=b1']);
  });
  test('are never made of a signature: it is for one record', () => {
    expect(brief(filledDown({ ...all, fields: [{ ...a, kind: 'signature' } as Field, null, b] }))).toEqual(['b2=b1', 'b3=b1']);
  });
});

test('cells that are emptied are those of the block that can be changed', () => {
  expect(brief(emptied({ ...all, width: 1 }))).toEqual(['a1=null', 'a2=null', 'a3=null']);
  fc.assert(
    fc.property(fc.subarray([1, 2, 3]), (open) => {
      const given = emptied({ ...all, canEdit: (each) => open.includes(each.id) });
      expect(given.map((each) => each.record.id)).toEqual(open.flatMap((id) => [id, id]));
    }),
  );
});
