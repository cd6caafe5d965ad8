import type { RecordAnswer } from '@bibliona/core';
import { useRef, useState } from 'react';
import type { Rows } from '../../ui/grid/rows.js';
import { mostChosen } from './JustDone.js';

/** The records of a list that were chosen, to do something with all of them. */
export function useMarks(rows: Rows<RecordAnswer>) {
  const [marked, setMarked] = useState<ReadonlyMap<number, RecordAnswer>>(new Map());
  const last = useRef<number | null>(null);
  /** Chooses a record, or no longer; with `isRange` all from the one before it on. */
  const mark = (record: RecordAnswer, isRange = false): void => {
    const isOn = !marked.has(record.id);
    const next = new Map(marked);
    for (const one of isRange ? between(rows, last.current, record) : [record]) {
      if (!isOn) next.delete(one.id);
      else if (next.size < mostChosen) next.set(one.id, one);
    }
    last.current = record.id;
    setMarked(next);
  };
  return {
    marked,
    /** As they are by now: others might have changed them since they were chosen. */
    chosen: [...marked.values()].map((record) => rows.find(record.id)?.row ?? record),
    mark,
    clear: (): void => setMarked(new Map()),
  };
}

function between(rows: Rows<RecordAnswer>, from: number | null, to: RecordAnswer): readonly RecordAnswer[] {
  const start = from === null ? undefined : rows.find(from)?.index;
  const end = rows.find(to.id)?.index;
  if (start === undefined || end === undefined) return [to];
  return Array.from({ length: Math.abs(end - start) + 1 }, (_, i) => rows.at(Math.min(start, end) + i)).filter((one) => one !== undefined);
}
