import { describe, expect, test } from 'vitest';
import type { ReferredDraft } from './draft.js';
import { changedOf, onlyShown, typedNow, typedSince } from './referred.js';

const one = (values: ReferredDraft['values'], rev = 1): ReferredDraft => ({
  table: 'apiaries',
  id: 4,
  rev,
  start: { a_name: 'Ling Moor', a_region: { id: 2, caption: 'Moor' } },
  values,
});

describe('what is changed of records that are referred to', () => {
  test.each([
    ['typed anew', { a_name: 'Ling Moor East' }, true],
    ['typed and typed back', { a_name: 'Ling Moor' }, false],
    ['picked again by the same number', { a_region: { id: 2, caption: 'The moor' } }, false],
    ['not touched', {}, false],
  ])('%s: %j', (_, values, isChanged) => {
    expect('apiaries 4' in changedOf({ 'apiaries 4': one(values) })).toBe(isChanged);
  });

  test('what was cleared is nothing, and not what was read', () => {
    const field = { ...{ id: 'a_region', name: 'Region', description: '', required: false, unique: false, default: null }, column: 'region' };
    const region = { ...field, kind: 'reference', relationship: 'r_regions' } as const;
    const record = { id: 4, rev: 1, values: { a_region: { id: 2, caption: 'Moor' } } };
    expect(typedNow(one({ a_region: null }), region, record)).toBeNull();
    expect(typedNow(one({ a_name: 'East' }), region, record)).toEqual({ id: 2, caption: 'Moor' });
    expect(typedNow(undefined, region, record)).toEqual({ id: 2, caption: 'Moor' });
  });

  test('only what the form shows is saved', () => {
    const draft = { own: {}, children: {}, referred: { 'apiaries 4': one({ a_name: 'East', a_region: null }), 'apiaries 5': one({ a_name: 'West' }) } };
    expect(onlyShown(draft, new Set(['apiaries 4 a_name'])).referred).toEqual({ 'apiaries 4': one({ a_name: 'East' }), 'apiaries 5': one({}) });
  });

  test('after a save it goes on from what was saved, with what was typed meanwhile', () => {
    const sent = { 'apiaries 4': one({ a_name: 'East' }) };
    const late = typedSince({ 'apiaries 4': one({ a_name: 'East Moor' }) }, sent, () => 2);
    expect(late['apiaries 4']).toMatchObject({ rev: 2, start: { a_name: 'East' }, values: { a_name: 'East Moor' } });
    expect(typedSince(sent, sent, () => 2)).toEqual({});
    // What was begun on while it was under way keeps its version.
    expect(typedSince(sent, {}, () => undefined)).toEqual(sent);
  });
});
