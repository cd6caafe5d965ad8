import fc from 'fast-check';
import { expect, test } from 'vitest';
import { readPicked, writePicked } from './picked.js';

test('what is picked is read from the address as it was written there', () => {
  const id = fc.stringMatching(/^[a-z][a-z0-9_]{1,20}$/u);
  const value = fc.oneof(fc.string(), fc.integer(), fc.boolean(), fc.constant(null));
  const only = fc.array(fc.record({ column: id, values: fc.array(value, { minLength: 1, maxLength: 5 }) }), { maxLength: 3 });
  const sorted = fc.option(fc.tuple(id, fc.constantFrom('up' as const, 'down' as const)), { nil: undefined });
  fc.assert(
    fc.property(fc.string(), only, sorted, fc.array(id, { maxLength: 3 }), (search, narrowed, sort, by) => {
      const picked = { search, only: narrowed, direction: sort?.[1] ?? 'up', ...(sort === undefined ? {} : { sort: sort[0] }), by };
      expect(readPicked(new URLSearchParams(writePicked(picked).toString()))).toEqual(picked);
    }),
  );
});

test.each(['{', '7', '[{"column":"a"}]', '[{"column":"stores","values":[]}]', '[{"column":"stores","values":[{}]}]'])(
  '%s in an address picks nothing',
  (only) => expect(readPicked(new URLSearchParams({ only, dir: 'sideways', by: ',7,No,%' }))).toEqual({ search: '', only: [], direction: 'up', by: [] }),
);
