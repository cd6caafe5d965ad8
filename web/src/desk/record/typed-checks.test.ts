import { applyChanges, checksOf, evaluate, fieldsRead, tableOf, type AppDesign, type RecordValue } from '@bibliona/core';
import * as language from '@bibliona/core/language';
import { describe, expect, test } from 'vitest';
import type { RecordDraft } from './draft.js';
import { draftSource, KnownRecords } from './draft-source.js';
import { brokenChecks } from './typed-checks.js';
import { design as plain, start } from './sample.js';

const { design } = ((): { readonly design: AppDesign } => {
  const made = applyChanges(plain, [
    {
      kind: 'change_table',
      table: 'visits',
      checks: [
        { id: 'ck_warm', condition: 'Warmth < 40', message: 'Nothing is warmer than 40.' },
        { id: 'ck_late', condition: 'Warmth < 30 or Date > date("2026-06-01")', message: 'So warm only in summer.' },
        { id: 'ck_full', condition: 'Date = null or Warmth != null', message: 'A visit has a warmth.' },
        { id: 'ck_rows', condition: 'count(Frames) < 3', message: 'Two frames at most.' },
      ],
    },
    { kind: 'change_table', table: 'frames', checks: [{ id: 'ck_brood', condition: 'Brood <= 100', message: 'Brood is at most 100.' }] },
  ]);
  if (!made.ok) throw new Error(JSON.stringify(made.issues));
  return made;
})();

const around = { now: Date.UTC(2026, 8, 14), zone: 'UTC', me: { Name: 'Ada Wren', Mail: '', Roles: [] } };
/** The messages for a draft, computed as a form computes them. */
function told(draft: RecordDraft, from: RecordDraft = start, isNew = false): Record<string, string> {
  const source = draftSource(design, 'visits', null, draft, new KnownRecords(design, []));
  const isBroken = (table: string, of: RecordValue['id'], condition: string): boolean => {
    const checked = language.check(condition, { design, table }, language.wants.truth);
    return checked.ok && evaluate(checked.node, { ...around, ...source, records: source, self: { kind: 'record', table, id: of } }) === false;
  };
  return Object.fromEntries(brokenChecks(design, 'visits', isNew, from, draft, language, isBroken));
}
const withOwn = (own: RecordDraft['own']): RecordDraft => ({ ...start, own: { ...start.own, ...own } });

describe('a check of what is typed', () => {
  test('is told at the last field it reads that was changed', () => {
    expect(told(withOwn({ f_warmth: '41' }))).toEqual({ 'own.f_warmth': 'Nothing is warmer than 40.' });
    expect(told(withOwn({ f_warmth: '35' }))).toEqual({});
    expect(told(withOwn({ f_warmth: '35', f_date: '1/2/2026' }))).toEqual({ 'own.f_warmth': 'So warm only in summer.' });
    const warm = withOwn({ f_warmth: '35' });
    expect(told({ ...warm, own: { ...warm.own, f_date: '1/2/2026' } }, warm)).toEqual({ 'own.f_date': 'So warm only in summer.' });
  });

  test('of a new record is told at the last field that is filled, also by default: all of it is written', () => {
    const begun: RecordDraft = { own: { f_date: '', f_warmth: '35' }, children: {} };
    const typed = { ...begun, own: { ...begun.own, f_date: '1/2/2026' } };
    expect(told(typed, begun, true)).toEqual({ 'own.f_warmth': 'So warm only in summer.' });
    expect(told(typed, begun)).toEqual({ 'own.f_date': 'So warm only in summer.' });
  });

  test('is not told of what nobody has changed, nor of what is no longer a value', () => {
    const wrong = withOwn({ f_warmth: '41' });
    expect(told(wrong, wrong)).toEqual({});
    expect(told(withOwn({ f_warmth: 'forty' }))).toEqual({});
  });

  test('waits for a field that nobody has come to yet', () => {
    const empty: RecordDraft = { own: { f_date: '', f_warmth: '' }, children: {} };
    expect(told({ ...empty, own: { f_date: '14/9/2026', f_warmth: '' } }, empty)).toEqual({});
    expect(told({ ...empty, own: { f_date: '', f_warmth: '45' } }, empty)).toEqual({ 'own.f_warmth': 'Nothing is warmer than 40.' });
    expect(told(withOwn({ f_warmth: '' }))).toEqual({ 'own.f_warmth': 'A visit has a warmth.' });
  });

  test('of a row is told in the row, also in one that is new', () => {
    const rows = start.children['r_f'] ?? [];
    const fresh = { key: 'n', id: null, rev: 0, begun: { f_place: '', f_brood: '0' }, values: { f_place: '3', f_brood: '101' } };
    const changed = { ...start, children: { r_f: [...rows.map((row, i) => (i === 1 ? { ...row, values: { ...row.values, f_brood: '120' } } : row)), fresh] } };
    expect(told(changed)).toEqual({ 'children.r_f.1.values.f_brood': 'Brood is at most 100.', 'children.r_f.2.values.f_brood': 'Brood is at most 100.' });
  });

  test('has no place where it reads no field of the record', () => {
    const visits = tableOf(design, 'visits');
    expect(checksOf(design, visits).map((asked) => fieldsRead(asked, visits))).toEqual([['f_warmth'], ['f_date', 'f_warmth'], ['f_date', 'f_warmth'], []]);
  });
});
