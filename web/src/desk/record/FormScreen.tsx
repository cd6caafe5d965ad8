import { useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { namedForm } from '@bibliona/core';
import { rolesInHand, useApp, useRights } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { CannotAdd, NotHere } from '../NotHere.js';
import { readSelection } from '../list/selection.js';
import { AddedRecord } from './AddedRecord.js';
import { NewRecord } from './RecordScreen.js';

/** A form as a page of its own: each record that is added makes room for the next, also where none of them may be seen. */
export default function FormScreen() {
  const app = useApp();
  const { table: tableId } = useParams();
  const [search] = useSearchParams();
  const [added, setAdded] = useState<readonly number[]>([]);
  const { see, add } = useRights(tableId ?? '');
  const table = app.design.tables.find((each) => each.id === tableId);
  if (table === undefined) return <NotHere what="form" />;
  if (!add) return <CannotAdd table={table} />;
  const layout = namedForm(app.design, table.id, search.get('form') ?? undefined, rolesInHand(app));
  const last = added.at(-1);
  return (
    <>
      {last !== undefined && (
        <Note kind="good">
          {layout.thanks !== undefined && layout.thanks !== '' && `${layout.thanks} `}
          {added.length === 1 ? 'It is saved' : `${added.length} are saved, the last one`} as {see ? <AddedRecord table={table} id={last} /> : `No. ${last}`} of{' '}
          {table.name}. Here is the form for another.
        </Note>
      )}
      <NewRecord key={added.length} table={table} layout={layout} selection={readSelection(search, table)} onAdded={(id) => setAdded([...added, id])} />
    </>
  );
}
