import { contract, formFor, type AppDesign, type OpenRecord, type Selection, type Table } from '@bibliona/core';
import { useSuspenseQuery } from '@tanstack/react-query';
import { use, useEffect, useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { call } from '../../state/api.js';
import { useApp, useCircumstances, useKindsOf } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { justSaved, mayReplace, recordName } from '../../state/live.js';
import { readSelection } from '../list/selection.js';
import { NotHere } from '../NotHere.js';
import { draftOfRecord, emptyDraft } from './draft.js';
import { RecordForm } from './RecordForm.js';
import { loadLanguage } from '../../state/language.js';

/** One record, opened from its list or begun anew. */
export default function RecordScreen() {
  const app = useApp();
  const { table: tableId, record } = useParams();
  const [search] = useSearchParams();
  const table = app.design.tables.find((one) => one.id === tableId);
  if (table === undefined) return <NotHere what="form" />;
  const selection = readSelection(search, table);
  if (record === 'new') return <NewRecord key={table.id} table={table} selection={selection} />;
  const id = Number(record);
  if (!Number.isSafeInteger(id) || id < 1) return <NotHere what="record" />;
  return <ExistingRecord key={id} table={table} id={id} selection={selection} />;
}

/** The tables of a form: its own and those of its child rows. */
const withChildren = (design: AppDesign, table: Table): readonly Table[] => [
  table,
  ...design.tables.filter((one) => design.relationships.some(({ parent, child }) => parent === table.id && child === one.id)),
];

export function NewRecord(props: { readonly table: Table; readonly selection: Selection; readonly onAdded?: (id: number) => void }) {
  const { table } = props;
  const app = useApp();
  const around = useCircumstances();
  useKindsOf(withChildren(app.design, table));
  // A new record starts with default values, which are computed.
  use(loadLanguage());
  const shown = formFor(app.design, table.id).items.flatMap((item) => (item.kind === 'children' ? [item.relationship] : []));
  return <RecordForm {...props} open={null} start={emptyDraft(app.design, table.id, shown, around)} />;
}

function ExistingRecord({ table, id, selection }: { readonly table: Table; readonly id: number; readonly selection: Selection }) {
  const app = useApp();
  useKindsOf(withChildren(app.design, table));
  const { data } = useSuspenseQuery({
    queryKey: keys.record(app.id, table.id, id),
    queryFn: (): Promise<OpenRecord> => call(contract.readRecord, { params: { app: app.id, table: table.id, id } }),
    // What is typed must not be pulled away by a reading in the background: the form asks anew when it is opened or saved.
    staleTime: 0,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
  });
  // A newer state that comes while something is typed waits: the save will say that somebody else was faster.
  const [shown, setShown] = useState(data);
  const name = recordName(table.id, id);
  if (shown !== data && mayReplace(name)) setShown(data);
  useEffect(() => {
    justSaved.delete(name);
  }, [name, shown]);
  return (
    <RecordForm
      key={revisions(shown)}
      table={table}
      selection={selection}
      open={shown}
      start={draftOfRecord(app.design, table.id, shown)}
      onGivenUp={() => setShown(data)}
    />
  );
}

/** Changes with every saved version of the record or of one of its children. */
const revisions = (open: OpenRecord): string =>
  JSON.stringify([open.record.rev, open.children.map((block) => block.records.map((record) => [record.id, record.rev]))]);
