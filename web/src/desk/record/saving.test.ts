import type { AppDesign, RefusalAnswer } from '@bibliona/core';
import { describe, expect, test } from 'vitest';
import type { RecordDraft } from './draft.js';
import { RecordSaving, type Prepared, type SaveConflict, type Sent } from './saving.js';
import { design, start as draft } from './sample.js';

const openedForm = (): RecordSaving => new RecordSaving('visits', { id: 7, rev: 3 }, draft);
const changed = (own: RecordDraft['own'], more: Partial<RecordDraft> = {}): RecordDraft => ({ ...draft, own: { ...draft.own, ...own }, ...more });
const prepare = (form: RecordSaving, now: RecordDraft, required: readonly string[] = [], of: AppDesign = design): Prepared =>
  form.prepare(of, now, new Set(), new Set(required));
function sentBy(form: RecordSaving, now: RecordDraft): Sent {
  const prepared = prepare(form, now);
  if (prepared.kind !== 'send') throw new Error(prepared.kind);
  return prepared.sent;
}
const rows = (change: (row: RecordDraft['children'][string][number], at: number) => object): RecordDraft['children'] => ({
  r_f: (draft.children['r_f'] ?? []).map((row, at) => ({ ...row, ...change(row, at) })),
});
const conflictAt = (write: number, current: { id: number; rev: number; values: Record<string, string | number> } | null) =>
  ({
    code: 'conflict',
    message: 'Someone was faster',
    issues: [],
    details: [{ write, current, by: 'Bede', at: '2026-09-14T10:00:00Z' }],
  }) as unknown as RefusalAnswer;

describe('what a form sends', () => {
  test('is nothing when nothing is changed', () => {
    expect(prepare(openedForm(), draft)).toEqual({ kind: 'same' });
  });

  test('has one key for as long as it is the same, another one when it differs or was taken', () => {
    const form = openedForm();
    const first = sentBy(form, changed({ f_warmth: '20' }));
    expect(sentBy(form, changed({ f_warmth: '20' })).key).toBe(first.key);
    const second = sentBy(form, changed({ f_warmth: '21' }));
    expect(second.key).not.toBe(first.key);
    form.saved();
    expect(sentBy(form, changed({ f_warmth: '21' })).key).not.toBe(second.key);
  });

  test('is no more than one save takes', () => {
    const added = Array.from({ length: 2000 }, (_, i) => ({ key: `new ${i}`, id: null, rev: 0, values: { f_place: '1' }, begun: {} }));
    const now = (rows: typeof added): RecordDraft =>
      changed({ f_warmth: '20' }, { children: { ...draft.children, r_f: [...(draft.children['r_f'] ?? []), ...rows] } });
    expect(prepare(openedForm(), now(added))).toMatchObject({
      kind: 'refused',
      message: expect.stringContaining('2,000 records at most, and this would be 2,001') as string,
    });
    expect(prepare(openedForm(), now(added.slice(1))).kind).toBe('send');
  });

  test('stays what it was while typing goes on', () => {
    const now = structuredClone(changed({ f_warmth: '20' })) as { own: Record<string, string> } & RecordDraft;
    const sent = sentBy(openedForm(), now);
    now.own['f_warmth'] = '30';
    expect(sent.draft.own['f_warmth']).toBe('20');
  });

  test('is told by its place when it is wrong, or when the form requires it', () => {
    expect(prepare(openedForm(), changed({ f_warmth: 'warm' }))).toMatchObject({ kind: 'incorrect', issues: [{ path: 'own.f_warmth' }] });
    expect(prepare(openedForm(), changed({ f_warmth: '' }), ['f_warmth'])).toEqual({
      kind: 'incorrect',
      issues: [{ path: 'own.f_warmth', message: 'Warmth is required' }],
    });
  });

  test('is of the version that a draft was begun on', () => {
    const form = openedForm();
    form.beginAt(2, changed({ f_warmth: '17.0' }));
    expect(sentBy(form, changed({ f_warmth: '20' })).writes).toMatchObject([{ kind: 'change', id: 7, rev: 2 }]);
    expect(form.begun).toMatchObject({ rev: 2, start: { own: { f_warmth: '17.0' } } });
  });
});

describe('a refused save', () => {
  test('says at the place of each value what is wrong with it', () => {
    const form = openedForm();
    const sent = sentBy(
      form,
      changed({ f_warmth: '20' }, { children: rows((_, at) => (at === 1 ? { values: { ...draft.children['r_f']?.[1]?.values, f_brood: '9' } } : {})) }),
    );
    const refusal = {
      code: 'invalid',
      message: 'No',
      details: [],
      issues: [{ write: 0, field: 'f_warmth', message: 'too warm' }, { write: 1, field: 'f_brood', message: 'too much' }, { message: 'of no value' }],
    } as unknown as RefusalAnswer;
    expect(form.refused(refusal, 'No', sent)).toEqual({
      kind: 'incorrect',
      issues: [
        { path: 'own.f_warmth', message: 'too warm' },
        { path: 'children.r_f.1.values.f_brood', message: 'too much' },
        { path: '', message: 'of no value' },
      ],
    });
    expect(form.refused({ ...refusal, issues: [] }, 'No', sent)).toEqual({ kind: 'refused', message: 'No' });
    expect(form.refused(null, 'Not reachable', sent)).toEqual({ kind: 'refused', message: 'Not reachable' });
  });

  test('because someone else was faster says what they, and what I, have made of it, and goes on from theirs', () => {
    const form = openedForm();
    const mine = changed({ f_warmth: '20.0' });
    const refused = form.refused(conflictAt(0, { id: 7, rev: 4, values: { f_date: '2026-09-02', f_warmth: '19.0' } }), '', sentBy(form, mine));
    expect(refused).toMatchObject({ kind: 'conflict', path: 'own', table: 'visits', mine: { f_warmth: '20.0' }, base: { f_warmth: '18.5' } });
    expect(form.settle(design, refused as SaveConflict, { f_warmth: '20.0' }, mine)).toEqual([{ path: 'own.f_warmth', value: '20.0' }]);
    // The date is theirs: it is compared with what is there now.
    const [write] = sentBy(form, changed({ f_warmth: '20.0', f_date: String(form.begun.start.own['f_date']) })).writes;
    expect(write).toMatchObject({ kind: 'change', rev: 4, values: { f_warmth: '20' } });
    expect(Object.keys((write as { values: object }).values)).toEqual(['f_warmth']);
  });

  test('over a row goes on from what is in it now', () => {
    const form = openedForm();
    const mine = changed({}, { children: rows((row, at) => (at === 1 ? { values: { ...row.values, f_brood: '9' } } : {})) });
    const current = { id: 2, rev: 5, values: { f_place: 2, f_brood: 8 } };
    const refused = form.refused(conflictAt(0, current), '', sentBy(form, mine));
    expect(refused).toMatchObject({ kind: 'conflict', path: 'children.r_f.1', table: 'frames', mine: { f_brood: '9' }, base: { f_brood: '' } });
    expect(form.settle(design, refused as SaveConflict, { f_brood: '9' }, mine)).toEqual([
      { path: 'children.r_f.1.rev', value: 5 },
      { path: 'children.r_f.1.values.f_brood', value: '9' },
    ]);
    const settled = changed({}, { children: rows((row, at) => (at === 1 ? { rev: 5, values: { ...row.values, f_brood: '9' } } : {})) });
    expect(sentBy(form, settled).writes).toMatchObject([{ kind: 'change', id: 2, rev: 5, values: { f_brood: 9 } }]);
  });

  test('because someone else has already removed a row is sent anew without it', () => {
    const form = openedForm();
    const without = changed({ f_warmth: '20' }, { children: { r_f: (draft.children['r_f'] ?? []).slice(1) } });
    const sent = sentBy(form, without);
    expect(sent.writes.map((write) => write.kind)).toEqual(['remove', 'change']);
    expect(form.refused(conflictAt(0, null), '', sent)).toEqual({ kind: 'again' });
    expect(sentBy(form, without).writes.map((write) => write.kind)).toEqual(['change']);
  });
});
