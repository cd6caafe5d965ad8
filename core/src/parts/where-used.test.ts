import { describe, expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import { everyPart, partKind } from './kinds.js';
import type { Gone, TargetName } from './part.js';
import { field, whole } from './sample.js';
import { whereUsed } from './where-used.js';

const told = (to: TargetName, id: string): readonly string[] =>
  whereUsed(whole, to, id).map((use) => [use.part, use.name, ...(use.field === null ? [] : [use.field]), ...use.places].join(': '));

describe('everything that would change without it is told', () => {
  const targets = [...everyPart(whole)].flatMap(([name, part]): (readonly [TargetName, string])[] => [
    [name, part.id],
    ...partKind(name)
      .inner(part)
      .flatMap((each) => (each.is === 'field' ? [['field', each.id] as const] : [])),
  ]);
  test.each(targets)('%s %s', (to, id) => {
    const gone: Gone = { has: (name, each) => name === to && each === id, isAsked: (name, each) => name === to && each === id };
    const uses = whereUsed(whole, to, id);
    for (const [name, part] of everyPart(whole)) {
      const isItself = name === to && part.id === id;
      const isOwn =
        to === 'field' &&
        name === 'table' &&
        partKind('table')
          .inner(part)
          .some((each) => each.id === id);
      if (isItself || isOwn || partKind(name).without(part, gone) === part) continue;
      expect(uses.map((use) => `${use.part} ${use.id}`)).toContain(`${name} ${part.id}`);
    }
  });
});

test('a table is used where others walk to it, a field where an expression names it', () => {
  expect(told('table', 'apiaries')).toEqual([
    'relationship: Hives of Apiaries',
    'form: Apiaries',
    'form: With its hives',
    'list: Apiaries',
    'query: Old: the column Apiary of the query Old',
    'report: All: the column Apiary of the report All',
    'dashboard: Season: the column Apiary of the tile One of Season',
    'tie: Home',
  ]);
  expect(told('field', 'h_year')).toEqual([
    'form: Hives',
    'form: Short: a condition of the form Short',
    'form: With its hives',
    'list: Hives',
    'list: Board: the condition of the list Board: a colour of the list Board',
    'automation: Note the year: the condition of the automation Note the year',
  ]);
});

test('a formula is told as the field that it is, and nothing tells of itself', () => {
  const formula = field({ kind: 'formula', id: 'h_age', name: 'Age', expression: '2026 - Queen year', digits: 0 });
  const tables = whole.tables.map((table) => (table.id === 'hives' ? { ...table, fields: [...table.fields, formula] } : table));
  const design = { ...whole, tables } as AppDesign;
  expect(whereUsed(design, 'field', 'h_year')).toContainEqual({
    part: 'table',
    id: 'hives',
    name: 'Hives',
    field: 'h_age',
    places: ['the formula Age of Hives'],
  });
  expect(whereUsed(design, 'field', 'h_age')).toEqual([]);
  expect(whereUsed(design, 'form', 'fm_apiaries')).toEqual([]);
});
