import { tableOf } from '@bibliona/core';
import { beforeAll, describe, expect, test } from 'vitest';
import { loadLanguage } from '../../state/language.js';
import { emptyDraft, emptyValues, writesOf, type RecordDraft } from './draft.js';
import { design, start } from './sample.js';

const around = { now: Date.UTC(2026, 8, 14), zone: 'UTC', me: { Name: 'Ada', Mail: 'ada@quillmoor.example', Roles: [] } };
const existing = { id: 7, rev: 3, start };
const with_ = (own: object, rows?: RecordDraft['children'][string]): RecordDraft => ({
  own: { ...start.own, ...own },
  children: { r_f: rows ?? start.children['r_f'] ?? [] },
});
const rows = start.children['r_f'] ?? [];

beforeAll(loadLanguage);

describe('writesOf', () => {
  test('an untouched form writes nothing', () => expect(writesOf(design, 'visits', existing, start).writes).toEqual([]));

  test('only changed fields are written, as values', () => {
    expect(writesOf(design, 'visits', existing, with_({ f_date: '2/9/2026' })).writes).toEqual([
      { kind: 'change', table: 'visits', id: 7, rev: 3, values: { f_date: '2026-09-02' } },
    ]);
  });

  test('clearing a field writes null', () => {
    expect(writesOf(design, 'visits', existing, with_({ f_warmth: '' })).writes).toMatchObject([{ values: { f_warmth: null } }]);
  });

  test('child rows are removed, changed and added with the parent, removals first', () => {
    const [first] = rows;
    if (first === undefined) throw new Error('no row');
    const changed = { ...first, values: { ...first.values, f_brood: '60' } };
    const added = { key: 'new', id: null, rev: 0, values: { f_place: '3', f_brood: '', f_visit: null } };
    const { writes, paths } = writesOf(design, 'visits', existing, with_({}, [changed, added]));
    expect(writes).toEqual([
      { kind: 'remove', table: 'frames', id: 2, rev: 4 },
      { kind: 'change', table: 'frames', id: 1, rev: 1, values: { f_brood: 60 } },
      { kind: 'add', table: 'frames', as: 'r_f 1', values: { f_place: 3, f_visit: 7 } },
    ]);
    expect(paths).toEqual([null, 'children.r_f.0', 'children.r_f.1']);
  });

  test('what is changed of a record that is referred to is written first, by its own version', () => {
    const referred = (values: RecordDraft['own']): RecordDraft => ({
      ...with_({ f_warmth: '20' }),
      referred: { 'visits 9': { table: 'visits', id: 9, rev: 5, start: { f_date: '1 Sep 2026', f_warmth: '12.0' }, values } },
    });
    expect(writesOf(design, 'visits', existing, referred({ f_warmth: '13' }))).toEqual({
      writes: [
        { kind: 'change', table: 'visits', id: 9, rev: 5, values: { f_warmth: '13' } },
        { kind: 'change', table: 'visits', id: 7, rev: 3, values: { f_warmth: '20' } },
      ],
      paths: ['referred.visits 9', 'own'],
      issues: [],
    });
    expect(writesOf(design, 'visits', existing, referred({ f_warmth: '12.0' })).paths).toEqual(['own']);
    expect(writesOf(design, 'visits', existing, referred({ f_date: '' })).issues).toEqual([
      { path: 'referred.visits 9.values.f_date', message: 'Date is required' },
    ]);
  });

  test('a row that was begun and left as it came is not written', () => {
    const begun = { f_place: '4', f_brood: '0', f_visit: null };
    const blank = { key: 'new', id: null, rev: 0, values: begun, begun };
    expect(writesOf(design, 'visits', existing, with_({}, [...rows, blank]))).toEqual({ writes: [], paths: [], issues: [] });
    const touched = { ...blank, values: { ...begun, f_place: '5' } };
    expect(writesOf(design, 'visits', existing, with_({}, [...rows, touched])).writes).toMatchObject([{ kind: 'add', values: { f_place: 5, f_brood: 0 } }]);
  });

  test('a new record begins with what was entered last where the field says so, and else with the default', () => {
    const frames = tableOf(design, 'frames');
    const sticky = { ...frames, fields: frames.fields.map((field) => (field.id === 'f_brood' ? { ...field, startsWithLast: true as const } : field)) };
    const last = { f_place: 3, f_brood: 25 };
    expect(emptyValues(design, frames, around, last)).toMatchObject({ f_place: '', f_brood: '0' });
    expect(emptyValues(design, sticky, around, last)).toMatchObject({ f_place: '', f_brood: '25' });
    expect(emptyValues(design, sticky, around, { f_brood: null })).toMatchObject({ f_brood: '0' });
  });

  test('what does not fit is named where it is', () => {
    const added = { key: 'new', id: null, rev: 0, values: { f_place: 'two', f_brood: '1', f_visit: null } };
    expect(writesOf(design, 'visits', existing, with_({ f_date: '' }, [...rows, added])).issues).toEqual([
      { path: 'own.f_date', message: 'Date is required' },
      { path: 'children.r_f.2.values.f_place', message: '"two" is not a number' },
    ]);
  });

  test('children of a new record refer to it before it has an id', () => {
    const draft = emptyDraft(emptyValues(design, tableOf(design, 'visits'), around, {}), ['r_f']);
    const filled = {
      own: { ...draft.own, f_date: '14 Sep 2026' },
      children: { r_f: [{ key: 'a', id: null, rev: 0, values: { f_place: '1', f_brood: '0', f_visit: null } }] },
    };
    expect(writesOf(design, 'visits', null, filled).writes).toEqual([
      { kind: 'add', table: 'visits', as: 'record', values: { f_date: '2026-09-14' } },
      { kind: 'add', table: 'frames', as: 'r_f 0', values: { f_place: 1, f_brood: 0, f_visit: { added: 'record' } } },
    ]);
  });
});
