import { contract } from '@bibliona/core';
import { expect, test } from 'vitest';
import { addressed } from './screens.js';
import { pathOf } from './state/api.js';

test.each([
  ['/', null],
  ['/profile', null],
  ['/desk/honey_1', ['desk', 'deskStart']],
  ['/desk/honey_1/hives', ['desk', 'list']],
  ['/desk/honey_1/hives/12', ['desk', 'record']],
  ['/desk/honey_1/hives/new', ['desk', 'record']],
  ['/desk/honey_1/hives/removed', ['desk', 'removed']],
  ['/desk/honey_1/waiting', ['desk', 'waiting']],
  ['/desk/honey_1/d/season', ['desk', 'dashboard']],
  ['/desk/honey_1/f/hives', ['desk', 'form']],
  ['/workshop/honey_1', ['workshop', 'tables', 'diagram']],
  ['/workshop/honey_1/access/roles/keeper', ['workshop', 'access']],
])('%s is on its way with %j', (path, screens) => expect(addressed(path)?.screens ?? null).toEqual(screens));

test('what is asked for first are routes of the contract', () => {
  expect(pathOf(contract.whoAmI)).toBe('/api/me');
  expect(pathOf(contract.openApp, { app: 'honey_1' })).toBe('/api/apps/honey_1');
  const list = pathOf(contract.readPage, { app: 'honey_1', table: 'hives' }, { search: '', direction: 'up', limit: 100 });
  expect(addressed('/desk/honey_1/hives')?.data).toEqual([list]);
  expect(addressed('/desk/honey_1/hives', '?sort=code')?.data).toEqual([]);
  expect(addressed('/desk/honey_1/hives/12')?.data).toEqual([pathOf(contract.readRecord, { app: 'honey_1', table: 'hives', id: 12 })]);
  expect(addressed('/desk/honey_1/hives/new')?.data).toEqual([]);
});
