import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { contract, type Form, type OpenRecord, type Table } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { FormProvider, useForm } from 'react-hook-form';
import '../../look/desk.js';
import { FormBody } from '../../desk/record/FormBody.js';
import { draftOfRecord } from '../../desk/record/draft.js';
import { formAsked } from '../../desk/record/layout-at.js';
import { LiveForm } from '../../desk/record/live.js';
import type { FormValues } from '../../desk/record/form-values.js';
import { call, messageOf } from '../../state/api.js';
import { useApp, useKindsOf, useRights } from '../../state/app.js';
import { useAskedAs } from '../../state/asked-as.js';
import { keys } from '../../state/keys.js';
import { Empty } from '../../ui/Empty.js';
import { RecordAt } from '../../ui/files/held.js';
import { RegisterMark } from '../../ui/Mark.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { RecordPicker } from '../RecordPicker.js';
import { AsViewer, ViewerPicker } from './AsViewer.js';

type Width = 'desk' | 'phone';

/** The form as it is filled with a real record, as wide as on the Desk or on a phone, for a builder or for anyone else. */
export function FormProof({ table, form }: { readonly table: Table; readonly form: Form }) {
  const app = useApp();
  useKindsOf(app.design.tables);
  const [width, setWidth] = useState<Width>('desk');
  const [picked, setPicked] = useState<number | null>(null);
  const [viewer, setViewer] = useState('');
  const first = useFirst(table);
  const isBare = first.data?.records.length === 0;
  const shown = { width, picked };
  return (
    <div className="pull">
      <div className="slug">
        <RegisterMark />
        <b>Proof</b>
        <Tabs value={width} onChange={(_, next: Width) => setWidth(next)} aria-label="Width of the proof">
          <Tab value="desk" label="Desk" />
          <Tab value="phone" label="Phone" />
        </Tabs>
        {!isBare && <RecordPicker table={table.id} onPick={setPicked} name="Record in the proof" placeholder="Another record" />}
        {!isBare && <ViewerPicker value={viewer} onPick={setViewer} />}
        <span className="end">
          <RegisterMark />
        </span>
      </div>
      <div className="trim" role="group" aria-label="The form with a record" tabIndex={0}>
        {isBare ? (
          <Empty title={`No records in ${table.name} yet.`}>Add one on the Desk to see it in this form.</Empty>
        ) : viewer === '' ? (
          <WithRecord table={table} form={form} {...shown} />
        ) : (
          <AsViewer key={viewer} viewer={viewer} form={form}>
            {(shownForm) => (shownForm === null ? <NotShown table={table} /> : <WithRecord table={table} form={shownForm} {...shown} />)}
          </AsViewer>
        )}
      </div>
    </div>
  );
}

function NotShown({ table }: { readonly table: Table }) {
  const { see } = useRights(table.id);
  return (
    <Note kind="look">
      {see ? "They don't get this form: it is for other roles." : `They don't get this form: they have no permission to see ${table.name}.`}
    </Note>
  );
}

/** The first record of a table that the person at hand, or as whom a builder looks, can see. */
function useFirst(table: Table) {
  const { id } = useApp();
  const as = useAskedAs();
  return useQuery({
    queryKey: keys.sample(id, table.id),
    queryFn: () => call(contract.readPage, { params: { app: id, table: table.id }, query: { limit: 1 }, ...as }),
  });
}

interface WithRecordProps {
  readonly table: Table;
  readonly form: Form;
  readonly width: Width;
  /** The record that is asked for; null: the first one. */
  readonly picked: number | null;
}

function WithRecord({ table: whole, form, width, picked }: WithRecordProps) {
  const app = useApp();
  const as = useAskedAs();
  const first = useFirst(whole);
  const id = picked ?? first.data?.records[0]?.id ?? null;
  // Its rows are read with the record, in their order.
  const asked = formAsked(app, form);
  const { data, error } = useQuery({
    queryKey: [...keys.record(app.id, whole.id, id ?? 0), ...(asked === undefined ? [] : [asked])],
    queryFn: () =>
      call(contract.readRecord, { params: { app: app.id, table: whole.id, id: id ?? 0 }, query: asked === undefined ? {} : { form: asked }, ...as }),
    enabled: id !== null,
  });
  // As the person at hand knows it.
  const table = app.design.tables.find((each) => each.id === whole.id);
  const problem = error ?? (id === null ? first.error : null);
  if (problem !== null) return <Note kind="bad">{messageOf(problem)}</Note>;
  if (first.data?.records.length === 0 && picked === null) return <Note kind="look">They can't see any record of {whole.name}.</Note>;
  if (data === undefined || table === undefined) return <Waiting />;
  return (
    <div className={`filled ${width}`}>
      <Filled key={`${data.record.id} ${data.record.rev} ${JSON.stringify(form.items.map((item) => item.kind))}`} table={table} form={form} open={data} />
    </div>
  );
}

function Filled({ table, form, open }: { readonly table: Table; readonly form: Form; readonly open: OpenRecord }) {
  const app = useApp();
  const start = useMemo(() => {
    const { own, children } = draftOfRecord(app.design, table.id, open);
    // Rows that have just been put on the form were not read with the record.
    const added = Object.fromEntries(form.items.flatMap((item) => (item.kind === 'children' ? [[item.relationship, []]] : [])));
    return { own, children: { ...added, ...children } };
    // It begins anew with each record.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [open]);
  const values = useForm<FormValues>({ defaultValues: start as unknown as FormValues });
  const at = useMemo(() => ({ table: table.id, record: open.record.id }), [table, open]);
  const frame = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // It is there to be looked at: nothing in it is pressed or typed.
    frame.current?.setAttribute('inert', '');
  }, []);
  return (
    <div ref={frame}>
      <FormProvider {...values}>
        <RecordAt value={at}>
          <LiveForm table={table} open={open}>
            <h2 className="filled-title">{open.caption}</h2>
            <FormBody table={table} form={form} open={open} />
          </LiveForm>
        </RecordAt>
      </FormProvider>
    </div>
  );
}
