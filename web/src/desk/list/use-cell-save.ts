import { contract, isGiven, isStored, kindOf, printValue, written, type Field, type RecordAnswer, type Table, type Typed, type Value } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { ApiRefusal, call, messageOf } from '../../state/api.js';
import { useApp, useRights } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { valueOf } from '../record/draft.js';

/** What was entered in a cell and not saved. */
export interface RefusedCell {
  readonly record: number;
  readonly field: Field;
  readonly typed: Typed;
  readonly message: string;
}

/** The records that a list shows: a cell that is saved is changed in them. */
export interface HeldRecords {
  readonly find: (id: number) => { readonly row: RecordAnswer } | null;
  readonly replace: (record: RecordAnswer) => void;
}

/** Which cells of a list this person can change in it. */
export function useCanEdit(table: Table): (record: RecordAnswer, field: Field) => boolean {
  const rights = useRights(table.id);
  const isOpen = (field: Field): boolean =>
    rights.change && !rights.locked.includes(field.id) && field.fixed !== true && isStored(field) && kindOf(field).files === undefined && !isGiven(field);
  // A text that is shown in part is changed where the record is opened.
  return (record, field) => isOpen(field) && record.cut?.includes(field.id) !== true;
}

/** Saves single cells of a list. What is entered is shown at once, and as it was again when the server refuses it. */
export function useCellSave(table: Table, rows: HeldRecords) {
  const app = useApp();
  const client = useQueryClient();
  const [refused, setRefused] = useState<RefusedCell | null>(null);
  // One after another: a second save of a record is of the version that the first one made.
  const before = useRef<Promise<unknown>>(Promise.resolve());
  const revs = useRef(new Map<number, number>());

  /** @param begun the record as it was when the cell was opened @returns whether it is saved */
  const save = async (begun: RecordAnswer, field: Field, typed: Typed): Promise<boolean> => {
    const notSaved = (refusal: RefusedCell): boolean => {
      setRefused(refusal);
      return false;
    };
    const record = begun.id;
    const parsed = valueOf(field, typed);
    if (!parsed.ok) return notSaved({ record, field, typed, message: parsed.problem });
    const put = (change: (now: RecordAnswer) => RecordAnswer): void => {
      const now = rows.find(record)?.row;
      if (now !== undefined) rows.replace(change(now));
    };
    const show = (value: Value) => put((now) => ({ ...now, values: { ...now.values, [field.id]: value } }));
    const old = rows.find(record)?.row.values[field.id] ?? null;
    show(parsed.value);
    const sent = before.current.then(() => {
      // What others saved since the cell was opened is a conflict; what this list saved is not.
      const rev = Math.max(begun.rev, revs.current.get(record) ?? 0);
      const write = { kind: 'change' as const, table: table.id, id: record, rev, values: { [field.id]: written(parsed.value) } };
      return call(contract.saveRecords, { params: { app: app.id }, body: { key: crypto.randomUUID(), writes: [write] } });
    });
    before.current = sent.catch(() => undefined);
    try {
      const { records } = await sent;
      setRefused((last) => (last?.record === record && last.field.id === field.id ? null : last));
      const rev = records[0]?.rev ?? begun.rev;
      revs.current.set(record, rev);
      put((now) => ({ ...now, rev: Math.max(now.rev, rev) }));
      void client.invalidateQueries({ queryKey: keys.record(app.id, table.id, record) });
      return true;
    } catch (error) {
      show(old);
      if (!(error instanceof ApiRefusal) || error.answer.code !== 'conflict') return notSaved({ record, field, typed, message: messageOf(error) });
      const current = error.answer.details[0]?.current ?? null;
      if (current === null) return notSaved({ record, field, typed, message: error.message });
      rows.replace(current);
      const theirs = printValue(field, current.values[field.id] ?? null, locale()) || 'nothing';
      return notSaved({ record, field, typed, message: `${error.message} It now says “${theirs}”. Enter yours again to put it there.` });
    }
  };
  return { refused, save, dismiss: () => setRefused(null) };
}
