import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { AppDesign } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { useMaking } from '../use-making.js';
import { TableField } from '../parts/TableField.js';
import { NameField } from '../parts/NameField.js';
import { changesFrom, choicesFrom, type Answers } from './route-draft.js';

const choiceFields = (design: AppDesign, table: string) =>
  (design.tables.find((each) => each.id === table)?.fields ?? []).filter((field) => field.kind === 'choice');

/** A new route: whose records take it, and through which statuses. */
export function RouteDialog({ onClose, onMade }: { readonly onClose: () => void; readonly onMade: (route: string) => void }) {
  const { design } = useApp();
  const { isSending, problemAt, say, clear, make } = useMaking('route');
  const free = design.tables.filter((table) => !design.routes.some((route) => route.table === table.id));
  const start = (table: string, name: string): Answers => ({
    name,
    table,
    field: choiceFields(design, table).find((field) => /status|state/iu.test(field.name))?.id ?? '',
    fieldName: 'Status',
    words: 'New, In work, Done',
  });
  const [answers, setAnswers] = useState<Answers>(() => start(free[0]?.id ?? '', ''));
  const set = (part: Partial<Answers>): void => (setAnswers({ ...answers, ...part }), clear());
  const send = (): void => {
    if (answers.name.trim() === '') return say('name', 'Enter a name for the route');
    if (answers.field === '' && choicesFrom(answers.words).length < 2) return say('words', 'Enter at least two statuses, separated by commas.');
    const { id, changes } = changesFrom(answers, design, newId);
    void make(changes, () => onMade(id));
  };
  return (
    <FormDialog
      title="A new route"
      intro="A route takes records from status to status. Each move has people who can make it."
      onClose={onClose}
      onSubmit={send}
      verb="Draw the route"
      isSending={isSending}
      problem={problemAt('form')}
    >
      <NameField value={answers.name} onChange={(typed) => set({ name: typed })} problem={problemAt('name')} />
      <TableField label="Of the records of" value={answers.table} tables={free} onChange={(id) => setAnswers(start(id, answers.name))} />
      <TextField select label="Its statuses" value={answers.field} onChange={(event) => set({ field: event.target.value })}>
        {choiceFields(design, answers.table).map((field) => (
          <MenuItem key={field.id} value={field.id}>
            the choices of {field.name}
          </MenuItem>
        ))}
        <MenuItem value="">a new field</MenuItem>
      </TextField>
      {answers.field === '' && (
        <>
          <TextField label="The field is called" value={answers.fieldName} onChange={(event) => set({ fieldName: event.target.value })} required />
          <TextField
            label="Statuses, from the first to the last"
            value={answers.words}
            onChange={(event) => set({ words: event.target.value })}
            error={problemAt('words') !== undefined}
            helperText={problemAt('words') ?? 'Separate them with commas. Existing records start with the first one.'}
          />
        </>
      )}
    </FormDialog>
  );
}
