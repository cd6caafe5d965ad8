import { emptyDesign, grantOf, type Field, type Grant, type Role, type Table } from '@bibliona/core';
import { expect, test } from 'vitest';
import { exceptions, grantWords, grouped, withGrant, withoutGrant } from './grant-words.js';

const grant = (id: string, more: Partial<Grant>): Grant => grantOf(id, 'hives', more);
const role = (...grants: readonly Grant[]): Role => ({ id: 'keeper', name: 'Keeper', description: '', everything: false, menu: [], grants });

test('the words of grants add up', () => {
  const keeper = role(grant('one', { condition: 'Code = "a"', change: true }), grant('two', {}), grantOf('three', 'other', { remove: true }));
  expect(grantWords(keeper, 'hives')).toEqual([
    { verb: 'sees', reach: 'all' },
    { verb: 'changes', reach: 'some' },
  ]);
  expect(grantWords(keeper, 'none')).toEqual([]);
  expect(grantWords({ ...role(), everything: true }, 'any')).toHaveLength(5);
});

test('the words are as few as say it', () => {
  const some = grant('one', { condition: 'Code = "a"', add: true, change: true });
  expect(grouped(grantWords(role(some, grant('two', {})), 'hives'))).toEqual([
    { words: 'sees', reach: 'all' },
    { words: 'adds, changes', reach: 'some' },
  ]);
  expect(grouped(grantWords({ ...role(), everything: true }, 'any'))).toEqual([{ words: 'everything', reach: null }]);
});

test('a grant is put in its place', () => {
  const keeper = role(grant('one', {}), grant('two', {}));
  expect(withGrant(keeper, grant('one', { add: true })).grants.map((each) => [each.id, each.add])).toEqual([
    ['one', true],
    ['two', false],
  ]);
  expect(withGrant(keeper, grant('new', {})).grants.map((each) => each.id)).toEqual(['one', 'two', 'new']);
  expect(withoutGrant(keeper, 'one').grants.map((each) => each.id)).toEqual(['two']);
});

test('what is kept from a role is named, or counted where there is more of it', () => {
  const field = (id: string, name: string): Field => ({ kind: 'text', id, name, column: id, description: '', required: false, unique: false, default: null });
  const fields = [field('f_a', 'Code'), field('f_b', 'Phone'), field('f_c', 'Rent'), field('f_d', 'Notes')];
  const hives = { id: 'hives', name: 'Hives', fields, checks: [], uniqueTogether: [] } as unknown as Table;
  const kept = (...grants: readonly Grant[]): readonly string[] => {
    const keeper = role(...grants);
    return exceptions({ ...emptyDesign('Honey'), tables: [hives], roles: [keeper] }, keeper, hives);
  };
  expect(kept(grant('one', {}))).toEqual([]);
  expect(kept(grant('one', { hidden: ['f_b'] }))).toEqual(['not Phone']);
  expect(kept(grant('one', { change: true, hidden: ['f_b'], locked: ['f_c', 'f_d'] }))).toEqual(['not Phone', 'Rent, Notes read-only']);
  expect(kept(grant('one', { hidden: ['f_b', 'f_c', 'f_d'] }))).toEqual(['not 3 fields']);
  // Another grant shows it, or none lets anything be changed.
  expect(kept(grant('one', { hidden: ['f_b'] }), grant('two', { condition: 'Code = "a"' }))).toEqual([]);
  expect(kept(grant('one', { locked: ['f_c'] }))).toEqual([]);
  expect(kept()).toEqual([]);
});
