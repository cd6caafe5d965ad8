import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { contract, type Form, type OpenRecord, type Table } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { FormProvider, useForm } from 'react-hook-form';
import '../../look/desk.js';
import { FormBody } from '../../desk/record/FormBody.js';
import { draftOfRecord } from '../../desk/record/draft.js';
import { LiveForm } from '../../desk/record/live.js';
import type { FormValues } from '../../desk/record/form-values.js';
import { call, messageOf } from '../../state/api.js';
import { useApp, useKindsOf } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Empty } from '../../ui/Empty.js';
import { RecordAt } from '../../ui/files/held.js';
import { RegisterMark } from '../../ui/Mark.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { RecordPicker } from '../RecordPicker.js';

type Width = 'desk' | 'phone';

/** The form as it is filled with a real record, as wide as on the Desk or on a phone. */
export function FormProof({ table, form }: { readonly table: Table; readonly form: Form }) {
  const app = useApp();
  useKindsOf(app.design.tables);
  const [width, setWidth] = useState<Width>('desk');
  const [picked, setPicked] = useState<number | null>(null);
  const first = useQuery({
    queryKey: keys.sample(app.id, table.id),
    queryFn: () => call(contract.readPage, { params: { app: app.id, table: table.id }, query: { limit: 1 } }),
  });
  const id = picked ?? first.data?.records[0]?.id ?? null;
  const { data, error } = useQuery({
    queryKey: keys.record(app.id, table.id, id ?? 0),
    queryFn: () => call(contract.readRecord, { params: { app: app.id, table: table.id, id: id ?? 0 } }),
    enabled: id !== null,
  });
  const isBare = first.data?.records.length === 0;
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
        <span className="end">
          <RegisterMark />
        </span>
      </div>
      <div className="trim" role="group" aria-label="The form with a record" tabIndex={0}>
        {error !== null && <Note kind="bad">{messageOf(error)}</Note>}
        {isBare && <Empty title={`No records in ${table.name} yet.`}>Add one on the Desk to see it in this form.</Empty>}
        {!isBare && data === undefined && error === null && <Waiting />}
        {data !== undefined && (
          <div className={`filled ${width}`}>
            <Filled key={`${data.record.id} ${data.record.rev} ${JSON.stringify(form.items.map((item) => item.kind))}`} table={table} form={form} open={data} />
          </div>
        )}
      </div>
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
