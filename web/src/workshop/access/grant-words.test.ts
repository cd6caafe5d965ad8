import { grantOf, type Grant, type Role } from '@bibliona/core';
import { expect, test } from 'vitest';
import { grantWords, grouped, withGrant, withoutGrant } from './grant-words.js';

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
    { says: 'sees', reach: 'all' },
    { says: 'adds, changes', reach: 'some' },
  ]);
  expect(grouped(grantWords({ ...role(), everything: true }, 'any'))).toEqual([{ says: 'everything', reach: null }]);
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
