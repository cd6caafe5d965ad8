import { mostWrites, type RecordAnswer } from '@bibliona/core';
import { useRef, useState } from 'react';
import { messageOf } from '../../state/api.js';
import type { Span } from '../../ui/grid/geometry.js';

/** Records that can be chosen: the same object for as long as it is the same list. */
export interface Markable {
  /** The record as it is now, and which of the list it is, as far as that is known. */
  readonly find: (id: number) => { readonly row: RecordAnswer; readonly index?: number } | null;
  /** The records of a part of the list, also those that were never in sight. */
  readonly load: (span: Span) => Promise<readonly (RecordAnswer | undefined)[]>;
}

/** The records of a list that were chosen, to do something with all of them. */
export function useMarks(rows: Markable) {
  const [marked, setMarked] = useState<ReadonlyMap<number, RecordAnswer>>(new Map());
  /** Set while records that are not in sight are read, and when they could not be. */
  const [state, setState] = useState<{ readonly isReading: boolean; readonly problem: string | null }>({ isReading: false, problem: null });
  // Those of another search or filter stay chosen, and are not all of what is listed then.
  const [allOf, setAllOf] = useState<Markable | null>(null);
  const last = useRef<{ readonly of: Markable; readonly id: number; readonly index: number } | null>(null);
  const set = (records: readonly RecordAnswer[], isOn: boolean): void =>
    setMarked((before) => {
      const next = new Map(before);
      for (const record of records) {
        if (!isOn) next.delete(record.id);
        else if (next.size < mostWrites) next.set(record.id, record);
      }
      return next;
    });
  /** Of a span also those that were never in sight: they are read first. */
  const setSpan = async (span: Span, isOn: boolean): Promise<void> => {
    setState({ isReading: true, problem: null });
    try {
      const records = await rows.load(span);
      set(
        records.filter((record) => record !== undefined),
        isOn,
      );
      setState({ isReading: false, problem: null });
    } catch (error) {
      setState({ isReading: false, problem: messageOf(error) });
    }
  };
  /** Chooses a record, or no longer; with `isRange` all from the one before it on. */
  const mark = (record: RecordAnswer, isRange = false): void => {
    const isOn = !marked.has(record.id);
    const index = rows.find(record.id)?.index;
    const from = last.current?.of === rows ? (rows.find(last.current.id)?.index ?? last.current.index) : undefined;
    last.current = index === undefined ? null : { of: rows, id: record.id, index };
    if (isRange && from !== undefined && index !== undefined) void setSpan({ first: Math.min(from, index), end: Math.max(from, index) + 1 }, isOn);
    else set([record], isOn);
  };
  return {
    marked,
    ...state,
    /** As they are by now: others might have changed them since they were chosen. */
    chosen: [...marked.values()].map((record) => rows.find(record.id)?.row ?? record),
    mark,
    /** @param count of the records in the list */
    isAll: (count: number): boolean => allOf === rows && marked.size >= Math.min(count, mostWrites),
    /** All records of the list, or as many as can be chosen. */
    markAll: (count: number): void => {
      setAllOf(rows);
      void setSpan({ first: 0, end: Math.min(count, mostWrites) }, true);
    },
    clear: (): void => {
      setMarked(new Map());
      setAllOf(null);
      setState({ isReading: false, problem: null });
    },
  };
}
