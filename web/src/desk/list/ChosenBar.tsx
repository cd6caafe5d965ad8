import type { Selection, Table } from '@bibliona/core';
import { lazy, Suspense } from 'react';
import { useApp, useRights } from '../../state/app.js';
import { startableIn } from '../../state/moves.js';
import { Note } from '../../ui/Note.js';
import { filesOf } from './files.js';
import type { Done } from './JustDone.js';
import type { useMarks } from './use-marks.js';

const Chosen = lazy(() => import('./Chosen.js'));

/** Whether there is anything that this person could do with several records of a table. */
export function useMayChoose(table: Table): boolean {
  const app = useApp();
  const rights = useRights(table.id);
  return rights.change || rights.remove || rights.export || app.moves || startableIn(app.design, table.id).length > 0;
}

/** What can be done with the records that are chosen in a list; nothing while none is. */
export function ChosenBar(props: {
  readonly table: Table;
  /** What the list is called. */
  readonly name: string;
  readonly selection: Selection;
  /** The columns that are shown. */
  readonly columns: readonly string[];
  readonly marks: ReturnType<typeof useMarks>;
  /** Of the records in the list. */
  readonly count: number;
  readonly onDone: (done: Done) => void;
}) {
  const { table, name, selection, columns, marks, count, onDone } = props;
  const app = useApp();
  return (
    <>
      {marks.problem !== null && <Note kind="bad">{marks.problem}</Note>}
      {marks.marked.size > 0 && (
        <Suspense>
          <Chosen
            table={table}
            chosen={marks.chosen}
            isReading={marks.isReading}
            count={count}
            isAll={marks.isAll(count)}
            onAll={() => marks.markAll(count)}
            files={(only) => filesOf(app.id, { table, name, selection, columns, only })}
            onClear={marks.clear}
            onDone={(done) => {
              onDone(done);
              marks.clear();
            }}
          />
        </Suspense>
      )}
    </>
  );
}
