import { contract, type AppDesign, type Form, type Narrowing, type OpenRecord, type Selection, type Table } from '@bibliona/core';
import { useSuspenseQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { Link, useLocation, useParams, useSearchParams } from 'react-router';
import { ApiRefusal, arrivedOf, call } from '../../state/api.js';
import { closedFields, useApp, useCircumstances, useKindsOf, useRights } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { useNoteOpened } from '../../state/own-menu.js';
import { justSaved, mayReplace, recordName } from '../../state/live.js';
import { readSelection } from '../list/selection.js';
import { Note } from '../../ui/Note.js';
import { CannotAdd, GoneRecord, NotHere } from '../NotHere.js';
import { AddedRecord } from './AddedRecord.js';
import { useBeginning } from './beginnings.js';
import { draftOfRecord, emptyDraft, emptyValues } from './draft.js';
import { duplicateOf } from './duplicate.js';
import { formAsked, layoutAt } from './layout-at.js';
import { RecordForm } from './RecordForm.js';

/** One record, opened from its list or begun anew. */
export default function RecordScreen() {
  const app = useApp();
  const { table: tableId, record } = useParams();
  const [search] = useSearchParams();
  const location = useLocation();
  const table = app.design.tables.find((each) => each.id === tableId);
  if (table === undefined) return <NotHere what="form" />;
  const selection = readSelection(search, table);
  const layout = layoutAt(app, table, search);
  // Each time one comes here it is another new record.
  if (record === 'new' && app.rights[table.id]?.add !== true) return <CannotAdd table={table} />;
  if (record === 'new')
    return <NewRecord key={`${table.id} ${location.key}`} table={table} layout={layout} selection={selection} {...comesFrom(location.state)} />;
  const id = Number(record);
  if (!Number.isSafeInteger(id) || id < 1) return <NotHere what="record" />;
  return <ExistingRecord key={id} table={table} layout={layout} id={id} selection={selection} />;
}

/** The tables of a form: its own and those of its child rows. */
const withChildren = (design: AppDesign, table: Table): readonly Table[] => [
  table,
  ...design.tables.filter((each) => design.relationships.some(({ parent, child }) => parent === table.id && child === each.id)),
];

/** What a new record comes from: a record that it copies, or one that was saved just before it. */
interface ComesFrom {
  readonly copy?: number;
  readonly added?: number;
  /** Where in its list it is added: on a day of a calendar, in a column of a board. */
  readonly given?: readonly Narrowing[];
}
function comesFrom(state: unknown): ComesFrom {
  const { copy, added, given } = (typeof state === 'object' && state !== null ? state : {}) as Record<string, unknown>;
  return {
    ...(typeof copy === 'number' ? { copy } : {}),
    ...(typeof added === 'number' ? { added } : {}),
    ...(Array.isArray(given) ? { given: given as readonly Narrowing[] } : {}),
  };
}

interface NewRecordProps extends ComesFrom {
  readonly table: Table;
  readonly layout: Form;
  readonly selection: Selection;
  readonly onAdded?: (id: number) => void;
}

export function NewRecord({ copy, added, given = [], ...props }: NewRecordProps) {
  const { table, layout } = props;
  const app = useApp();
  useKindsOf(withChildren(app.design, table));
  const beginning = useBeginning(table, [...(props.selection.narrowed ?? []), ...given]);
  const { see } = useRights(table.id);
  if (copy !== undefined) return <CopiedRecord {...props} copy={copy} />;
  return (
    <>
      {added !== undefined && (
        <Note kind="good">
          {layout.thanks !== undefined && layout.thanks !== '' && `${layout.thanks} `}
          The record is saved
          {see && (
            <>
              {' as '}
              <AddedRecord table={table} id={added} />
            </>
          )}
          . Here is the form for another.
        </Note>
      )}
      <RecordForm {...props} open={null} start={emptyDraft(beginning, shownIn(layout))} />
    </>
  );
}

/** The relationships whose rows a form shows. */
const shownIn = (layout: Form): readonly string[] => layout.items.flatMap((item) => (item.kind === 'children' ? [item.relationship] : []));

function CopiedRecord({ copy, ...props }: Omit<NewRecordProps, 'added' | 'copy'> & { readonly copy: number }) {
  const { table, layout } = props;
  const app = useApp();
  const around = useCircumstances();
  const { data } = useSuspenseQuery(recordQuery(app.id, table.id, copy, formAsked(app, layout)));
  const { draft, note } = useMemo(() => {
    const closed = closedFields(app.rights);
    const beginningOf = (of: Table) => emptyValues(app.design, of, around, {});
    return duplicateOf(app.design, table, data, shownIn(layout), beginningOf, (field) => closed.has(field.id));
    // What it is a copy of is what was there when it began.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (
    <>
      <Note kind="look">
        This is a copy of{' '}
        <Link className="lk" to={`/desk/${app.id}/${table.id}/${copy}`}>
          {data.caption}
        </Link>
        , not saved yet. What is unique, files and signatures stay with the first. {note}
      </Note>
      <RecordForm {...props} open={null} start={draft} />
    </>
  );
}

function recordQuery(app: string, table: string, id: number, form: string | undefined) {
  const asked = { params: { app, table, id }, query: form === undefined ? {} : { form } };
  return {
    queryKey: [...keys.record(app, table, id), ...(form === undefined ? [] : [form])],
    queryFn: (): Promise<OpenRecord> => call(contract.readRecord, asked),
    initialData: () => arrivedOf(contract.readRecord, asked),
    // What is typed must not be pulled away by a reading in the background: the form asks anew when it is opened or saved.
    staleTime: 0,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
  };
}

interface ExistingRecordProps {
  readonly table: Table;
  readonly layout: Form;
  readonly id: number;
  readonly selection: Selection;
}

function ExistingRecord({ table, layout, id, selection }: ExistingRecordProps) {
  const app = useApp();
  useKindsOf(withChildren(app.design, table));
  const { data, error } = useSuspenseQuery(recordQuery(app.id, table.id, id, formAsked(app, layout)));
  // A newer state that comes while something is typed waits: the save will say that somebody else was faster.
  const [shown, setShown] = useState(data);
  useNoteOpened({ table: table.id, id, caption: data.caption });
  const name = recordName(table.id, id);
  if (shown !== data && mayReplace(name)) setShown(data);
  const onFree = useCallback(() => {
    if (mayReplace(name)) setShown(data);
  }, [name, data]);
  useEffect(() => {
    justSaved.delete(name);
  }, [name, shown]);
  // It was there when it was opened: somebody has removed it since, or changed what this person sees.
  const isGone = error instanceof ApiRefusal && error.code === 'not_found';
  if (isGone && mayReplace(name)) return <GoneRecord table={table} caption={data.caption} />;
  return (
    <>
      {isGone && <Note kind="look">Someone removed this record, or you no longer have access to it. What you typed is still here: copy what you need.</Note>}
      <RecordForm
        key={revisions(shown)}
        table={table}
        layout={layout}
        selection={selection}
        open={shown}
        {...(shown === data ? {} : { newer: data })}
        start={draftOfRecord(app.design, table.id, shown)}
        onGivenUp={() => setShown(data)}
        onFree={onFree}
      />
    </>
  );
}

/** Changes with every saved version of the record or of one of its children. */
const revisions = (open: OpenRecord): string =>
  JSON.stringify([open.record.rev, open.children.map((block) => block.records.map((record) => [record.id, record.rev]))]);
