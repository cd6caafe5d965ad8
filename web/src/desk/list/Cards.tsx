import Button from '@mui/material/Button';
import { messageOf } from '../../state/api.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { RecordCard } from './RecordCard.js';
import { useRecords } from './use-records.js';

/** Records as slips side by side, with all that the list shows of them. */
export function Cards({ table, list, selection }: ArrangedProps) {
  const { records, isPending, error, hasNextPage, isFetchingNextPage, fetchNextPage } = useRecords(table, selection, 60);
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (isPending) return <Waiting />;
  return (
    <div className="cards">
      <ul aria-label={list.name}>
        {records.map((record) => (
          <li key={record.id}>
            <RecordCard table={table} list={list} record={record} selection={selection} />
          </li>
        ))}
      </ul>
      {hasNextPage && (
        <Button variant="outlined" loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
          More records
        </Button>
      )}
    </div>
  );
}
