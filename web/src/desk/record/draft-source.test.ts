import {
  applyChanges,
  check,
  emptyDesign,
  evaluate,
  NotAtHand,
  relationshipOf,
  shown,
  tableOf,
  type DesignChange,
  type FieldPlan,
  type OpenRecord,
} from '@bibliona/core';
import { describe, expect, test } from 'vitest';
import type { RecordDraft } from './draft.js';
import { draftSource, KnownRecords, OnlyWhenSaved } from './draft-source.js';

const plan = { description: '', required: false, unique: false, default: null } as const;
const table = (id: string, name: string, fields: FieldPlan[]): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  description: '',
  section: '',
  form: `fm_${id}`,
  list: `l_${id}`,
  fields,
});
const related = (parent: string, child: string, fieldName: string, childrenName: string): DesignChange => ({
  kind: 'add_relationship',
  id: `r_${child}`,
  parent,
  child,
  fieldId: `${child}_up`,
  fieldName,
  childrenName,
  required: false,
  whenParentRemoved: 'refuse',
});
const made = applyChanges(emptyDesign('Honey'), [
  table('apiaries', 'Apiaries', [{ ...plan, kind: 'text', id: 'a_region', name: 'Region' }]),
  table('hives', 'Hives', [{ ...plan, kind: 'decimal', digits: 2, id: 'h_rent', name: 'Rent' }]),
  table('frames', 'Frames', [{ ...plan, kind: 'whole', id: 'f_brood', name: 'Brood' }]),
  related('apiaries', 'hives', 'Apiary', 'Hives'),
  related('hives', 'frames', 'Hive', 'Frames checked'),
]);
if (!made.ok) throw new Error('the sample design is broken');
const { design } = made;

const draft: RecordDraft = {
  own: { h_rent: '12.50', hives_up: { id: 4, caption: 'Brackmoor' } },
  children: {
    r_frames: [
      { key: 'a', id: 1, rev: 1, values: { f_brood: '40', frames_up: null } },
      { key: 'b', id: null, rev: 0, values: { f_brood: '65', frames_up: null } },
    ],
  },
};
const brackmoor: OpenRecord = {
  caption: 'Brackmoor',
  record: { id: 4, rev: 1, values: { a_region: 'Moor' } },
  children: [{ relationship: 'r_hives', records: [{ id: 7, rev: 1, values: { h_rent: '3', hives_up: { id: 4, caption: 'Brackmoor' } } }], more: false }],
};

function valueOf(expression: string, of = 'own', known: readonly OpenRecord[] = [], id: number | null = null, now = draft) {
  const owner = of === 'own' ? 'hives' : 'frames';
  const checked = check(expression, { design, table: owner });
  if (!checked.ok) throw new Error(checked.problems[0]?.message);
  const records = draftSource(
    design,
    'hives',
    id === null ? null : { caption: '', record: { id, rev: 1, values: {} }, children: [] },
    now,
    new KnownRecords(
      design,
      known.map((open) => ({ table: 'apiaries', open })),
    ),
  );
  return shown(
    evaluate(checked.node, { now: 0, zone: 'UTC', me: { Name: '', Mail: '', Roles: [] }, ...records, records, self: { kind: 'record', table: owner, id: of } }),
    'UTC',
  );
}

describe('formulas in a form', () => {
  test('see what is typed, and nothing where it cannot be read', () => {
    expect(valueOf('Rent * 2')).toBe('25');
    expect(valueOf('Rent * 2', 'own', [], null, { ...draft, own: { ...draft.own, h_rent: 'much' } })).toBeNull();
  });
  test('see the rows of the form, and rows see the record they are in', () => {
    expect(valueOf('mean(Frames checked.Brood)')).toBe('52.5');
    expect(valueOf('Brood + Hive.Rent', 'r_frames.1')).toBe('77.5');
  });
  test('ask for stored records they walk to, and go on when these are there', () => {
    expect(() => valueOf('Apiary.Region')).toThrow(NotAtHand);
    expect(valueOf('Apiary.Region', 'own', [brackmoor])).toBe('Moor');
  });
  test('see what is typed of a record that is referred to, and the rest of it as it is stored', () => {
    const typed = { table: 'apiaries', id: 4, rev: 1, start: { a_region: 'Moor' }, values: { a_region: 'Coast' } };
    const changed = { ...draft, referred: { 'apiaries 4': typed } };
    expect(valueOf('Apiary.Region', 'own', [brackmoor], null, changed)).toBe('Coast');
    expect(valueOf('sum(Apiary.Hives.Rent)', 'own', [brackmoor], null, changed)).toBe('15.5');
    expect(valueOf('Apiary.Region', 'own', [brackmoor], null, { ...draft, referred: { 'apiaries 5': { ...typed, id: 5 } } })).toBe('Moor');
  });
  test('take the record in the form as it is there, where they come back to it', () => {
    expect(valueOf('sum(Apiary.Hives.Rent)', 'own', [brackmoor], 7)).toBe('12.5');
  });
  test('count the record where it leads to as it is filled now, and no longer where it was', () => {
    const fen: OpenRecord = {
      caption: 'Fen',
      record: { id: 5, rev: 1, values: { a_region: 'Fen' } },
      children: [{ relationship: 'r_hives', records: [], more: false }],
    };
    const at = (apiary: number | null) => ({ ...draft, own: { ...draft.own, hives_up: apiary === null ? null : { id: apiary, caption: '' } } });
    const counts = (apiary: number | null, id: number | null) => valueOf('count(Apiary.Hives)', 'own', [brackmoor, fen], id, at(apiary));
    // A new one at an apiary with one already, and at an empty one; then the one that is there, left and moved.
    expect([counts(4, null), counts(5, null), counts(4, 7), counts(5, 7)]).toEqual(['2', '1', '1', '1']);
    expect(counts(null, 7)).toBeNull();
  });
  test('know rows by their numbers too: as they are typed, and not when they were taken out', () => {
    const stored = (id: number, brood: number) => ({ id, rev: 1, values: { f_brood: brood, frames_up: { id: 7, caption: '' } } });
    const opened: OpenRecord = {
      caption: '',
      record: { id: 7, rev: 1, values: {} },
      children: [{ relationship: 'r_frames', records: [stored(1, 10), stored(2, 20)], more: false }],
    };
    const source = draftSource(design, 'hives', opened, draft, new KnownRecords(design, []));
    const row = (id: number) => ({ kind: 'record', table: 'frames', id }) as const;
    const brood = tableOf(design, 'frames').fields[0];
    if (brood === undefined) throw new Error('no such field');
    expect(source.value(row(1), brood)).toBe(40);
    expect(source.children({ kind: 'record', table: 'hives', id: 7 }, relationshipOf(design, 'r_frames')).map((child) => child.id)).toEqual([
      'r_frames.0',
      'r_frames.1',
    ]);
  });
  test('know the number of a record that has one, and that what is being entered is their own', () => {
    expect([valueOf('record number()'), valueOf('record number()', 'own', [], 7)]).toEqual([null, '7']);
    expect([valueOf('record number()', 'r_frames.1'), valueOf('record number(Hive)', 'r_frames.1', [], 7)]).toEqual([null, '7']);
    expect(valueOf('created by me()')).toBe(true);
    expect(() => valueOf('created by me()', 'own', [], 7)).toThrow(OnlyWhenSaved);
  });
  test('wait for the server where only it can tell', () => {
    // What belongs to rows is not fetched row by row; what is new has nothing that belongs to it.
    const visits = { ...relationshipOf(design, 'r_frames'), id: 'r_below', parent: 'frames', child: 'hives' };
    const rows = draftSource(design, 'hives', null, draft, new KnownRecords(design, []));
    expect(() => rows.children({ kind: 'record', table: 'frames', id: 'r_frames.0' }, visits)).toThrow(OnlyWhenSaved);
    expect(rows.children({ kind: 'record', table: 'frames', id: 'r_frames.1' }, visits)).toEqual([]);
    const other = draftSource(design, 'apiaries', brackmoor, { own: {}, children: {} }, new KnownRecords(design, []));
    expect(() => other.children({ kind: 'record', table: 'apiaries', id: 'own' }, relationshipOf(design, 'r_hives'))).toThrow(OnlyWhenSaved);
    expect(() => valueOf('count(Apiary.Hives)', 'own', [{ ...brackmoor, children: [{ relationship: 'r_hives', records: [], more: true }] }])).toThrow(
      OnlyWhenSaved,
    );
  });
});
