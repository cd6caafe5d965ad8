import Button from '@mui/material/Button';
import { contract, fieldOf, tableOf, type Field, type Table, type TableRepeat } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { MakeTable } from './MakeTable.js';
import { MoveFields } from './MoveFields.js';

/** What the records of a table say again and again, each with the change that lets it be said once. */
export function WhatRepeats({ table, onClose }: { readonly table: Table; readonly onClose: () => void }) {
  const app = useApp();
  const [chosen, setChosen] = useState<TableRepeat | null>(null);
  const { data, error } = useQuery({
    queryKey: [...keys.app(app.id), app.version, 'repeats', table.id],
    queryFn: () => call(contract.readRepeats, { params: { app: app.id, table: table.id } }),
    gcTime: 0,
    retry: false,
  });
  const field = table.fields.find((each) => each.id === chosen?.field);
  if (chosen !== null && field !== undefined) {
    if (field.kind === 'reference') return <MoveFields table={table} chosen={chosen.carried} over={field.id} onClose={onClose} />;
    return <MakeTable table={table} field={field} follow={chosen.carried} onClose={onClose} />;
  }
  return (
    <FormDialog isDone title={`What ${table.name} repeats`} onClose={onClose} onSubmit={onClose} verb="Close" isSending={false}>
      {error !== null && <Note kind="bad">{messageOf(error)}</Note>}
      {data === undefined && error === null && <Waiting />}
      {data !== undefined && (
        <>
          <p className="q">
            {data.looked === 0
              ? `${table.name} has no records yet.`
              : data.repeats.length === 0
                ? `Nothing that would be better kept in a table of its own was found in ${locale().count(data.looked)} records.`
                : `In ${locale().count(data.looked)} records. What is said again and again can be kept once.`}
          </p>
          <ul className="repeats">
            {data.repeats.map((repeat) => (
              <Repeat key={repeat.field} table={table} repeat={repeat} onChoose={() => setChosen(repeat)} />
            ))}
          </ul>
        </>
      )}
    </FormDialog>
  );
}

function Repeat({ table, repeat, onChoose }: { readonly table: Table; readonly repeat: TableRepeat; readonly onChoose: () => void }) {
  const { design } = useApp();
  const field = fieldOf(table, repeat.field);
  const names = repeat.carried.map((id) => fieldOf(table, id).name);
  const parent = parentOfReference(field, design);
  return (
    <li>
      <span>
        <b>{field.name}</b>: {locale().count(repeat.values)} values in {locale().count(repeat.records)} records.
        {names.length > 0 && ` Nearly always the same for one ${field.name}: ${names.join(', ')}.`}
      </span>
      <Button size="small" onClick={onChoose}>
        {parent === null ? 'Make it a table' : `Move to ${parent}`}
      </Button>
    </li>
  );
}

const parentOfReference = (field: Field, design: Parameters<typeof tableOf>[0]): string | null => {
  const relationship = design.relationships.find((each) => each.field === field.id);
  return relationship === undefined ? null : tableOf(design, relationship.parent).name;
};
