import Button from '@mui/material/Button';
import { messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { ChosenBar, useMayChoose } from './ChosenBar.js';
import { calledIn, RecordCard } from './RecordCard.js';
import { RowMark } from './RowMark.js';
import { useMarks } from './use-marks.js';
import { useMarkable, useRecords } from './use-records.js';
import { namingFields } from './values.js';

const pageOfCards = 60;

/** Records as slips side by side, with all that the list shows of them. */
export function Cards({ table, list, selection, choosing }: ArrangedProps) {
  const app = useApp();
  const mayChoose = useMayChoose(table) && choosing !== undefined;
  const marks = useMarks(useMarkable(table, selection, pageOfCards));
  const { records, isPending, error, hasNextPage, isFetchingNextPage, fetchNextPage } = useRecords(table, selection, pageOfCards);
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (isPending) return <Waiting />;
  return (
    <>
      {choosing !== undefined && <ChosenBar {...{ table, selection, marks, ...choosing }} name={list.name} columns={list.columns} />}
      <div className="cards">
        <ul aria-label={list.name}>
          {records.map((record) => (
            <li key={record.id}>
              <RecordCard table={table} list={list} record={record} selection={selection}>
                {mayChoose && <RowMark record={record} marks={marks} label={`Choose ${calledIn(namingFields(app, table), record)}`} />}
              </RecordCard>
            </li>
          ))}
        </ul>
        {hasNextPage && (
          <Button variant="outlined" loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            More records
          </Button>
        )}
      </div>
    </>
  );
}
