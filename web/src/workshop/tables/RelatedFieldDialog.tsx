import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { FieldPlan, relatedTables, type Table } from '@bibliona/core';
import { useMemo, useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { NameField } from '../parts/NameField.js';
import { useMaking } from '../use-making.js';

const whatItIs = {
  parent: 'One record for each of these.',
  children: 'Any number of records for each of these.',
  itself: 'Who wrote it and when, and its number.',
} as const;

/** Shows something of a related table here: a field of the parent, or a summary of the children; or who wrote the record. The formula is written for it. */
export function RelatedFieldDialog({ table, onClose }: { readonly table: Table; readonly onClose: () => void }) {
  const app = useApp();
  const { isSending, problemAt, say, clear, make } = useMaking('field');
  const tables = useMemo(() => relatedTables(app.design, table), [app.design, table]);
  const [of, setOf] = useState(tables[0]?.name ?? '');
  const [chosen, setChosen] = useState('');
  const [typed, setTyped] = useState<string | null>(null);
  const related = tables.find((relatedTable) => relatedTable.name === of);
  const formula = related?.formulas.find((relatedFormula) => relatedFormula.expression === chosen);
  const isTaken = (name: string): boolean => table.fields.some((field) => field.name.toLowerCase() === name.toLowerCase());
  const name = typed ?? (formula === undefined ? '' : isTaken(formula.name) ? `${of}: ${formula.name}` : formula.name);
  const send = (): void => {
    if (formula === undefined) return say('formula', 'Choose what to show');
    const plan = FieldPlan.safeParse({ ...formula, kind: 'formula', id: newId('f'), name });
    if (!plan.success) return say('name', plan.error.issues[0]?.message ?? 'Enter a name');
    void make([{ kind: 'add_field', table: table.id, field: plan.data }], onClose);
  };
  return (
    <FormDialog
      title="Ready-made formula"
      intro={`Each record of ${table.name} shows it, always up to date. It is a formula, which you can change later.`}
      onClose={onClose}
      onSubmit={send}
      verb="Add the field"
      isSending={isSending}
      problem={problemAt('form')}
    >
      <TextField
        select
        label="Of"
        value={of}
        autoFocus
        onChange={(event) => {
          setOf(event.target.value);
          setChosen('');
          clear();
        }}
        helperText={related === undefined ? undefined : whatItIs[related.is]}
      >
        {tables.map((relatedTable) => (
          <MenuItem key={relatedTable.name} value={relatedTable.name}>
            {relatedTable.name}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="What to show"
        value={chosen}
        onChange={(event) => {
          setChosen(event.target.value);
          clear();
        }}
        error={problemAt('formula') !== undefined}
        helperText={problemAt('formula') ?? (formula === undefined ? undefined : `Formula: ${formula.expression}`)}
        required
      >
        {related?.formulas.map((relatedFormula) => (
          <MenuItem key={relatedFormula.expression} value={relatedFormula.expression}>
            {relatedFormula.name}
          </MenuItem>
        ))}
      </TextField>
      <NameField isLater label="Name of the new field" value={name} onChange={(next) => (setTyped(next), clear())} problem={problemAt('name')} />
    </FormDialog>
  );
}
