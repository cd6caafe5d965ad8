import { contract, tablesTouched, written, type RecordAnswer, type Table, type Value, type Write } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type ReactNode } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { touched } from '../../state/live.js';
import { Note } from '../../ui/Note.js';
import { JustDone, type Done } from './JustDone.js';
import { calledIn } from './RecordCard.js';
import { namingFields } from './values.js';

/** Puts records elsewhere in a list: each is one save, which can be undone; where it is refused the record stays and the reason is said. */
export function usePutting(table: Table) {
  const app = useApp();
  const client = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const [done, setDone] = useState<Done | null>(null);
  const underway = useRef(new Set<number>());
  const called = (record: RecordAnswer): string => calledIn(namingFields(app, table), record);

  /** @param to where the record is then, as a sentence goes on after its name; null: nothing is said, because it can't be undone */
  const send = async (record: RecordAnswer, write: Write, to: string | null): Promise<void> => {
    // Until the list is read again the record in it is the one from before: it would be put elsewhere from its old place.
    if (underway.current.has(record.id)) return;
    underway.current.add(record.id);
    setProblem(null);
    setDone(null);
    const save = crypto.randomUUID();
    let isSaved = false;
    try {
      await call(contract.saveRecords, { params: { app: app.id }, body: { key: save, writes: [write] } });
      isSaved = true;
    } catch (error) {
      setProblem(`${called(record)} stays where it is: ${messageOf(error)}`);
    }
    await touched(client, app, tablesTouched(app.design, [write]));
    underway.current.delete(record.id);
    if (isSaved && to !== null) setDone({ save, message: `${called(record)} ${to}.` });
  };
  const set = (record: RecordAnswer, values: Readonly<Record<string, Value>>, to: string): Promise<void> =>
    send(
      record,
      {
        kind: 'change',
        table: table.id,
        id: record.id,
        rev: record.rev,
        values: Object.fromEntries(Object.entries(values).map(([field, value]) => [field, written(value)])),
      },
      to,
    );
  const notes: ReactNode = (
    <>
      {problem !== null && (
        <Note
          kind="bad"
          action={
            <button type="button" className="btn bare" onClick={() => setProblem(null)}>
              Close
            </button>
          }
        >
          {problem}
        </Note>
      )}
      {done !== null && <JustDone key={done.save} done={done} onClose={() => setDone(null)} />}
    </>
  );
  return { send, set, notes, refuse: setProblem };
}
