import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { listFor, membersOf, type AppDesign, type SavedQuery } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { freeName } from './query-draft.js';

// A first answer that fits a screen; further columns are added by hand.
const firstColumns = 5;

/** The first columns of the list: a query begins with an answer, not with nothing. */
function startColumns(design: AppDesign, table: string): SavedQuery['columns'] {
  const listed = listFor(design, table).columns.slice(0, firstColumns);
  const columns: SavedQuery['columns'][number][] = [];
  for (const member of membersOf(design, table))
    if (member.kind === 'field' && listed.includes(member.field.id))
      columns.push({ id: newId('c'), name: freeName(member.field.name, columns), expression: member.name, summary: null, digits: null });
  return columns;
}

/** A new query: what it is called and what one row of it stands for. */
export function QueryDialog({ onClose, onMade }: { readonly onClose: () => void; readonly onMade: (query: string) => void }) {
  const app = useApp();
  const { change } = useDesignChange();
  const [name, setName] = useState('');
  const [table, setTable] = useState(app.design.tables[0]?.id ?? '');
  const [problem, setProblem] = useState<{ readonly at: 'name' | 'form'; readonly text: string } | null>(null);
  const [isSending, setSending] = useState(false);
  const send = async (): Promise<void> => {
    if (name.trim() === '') return setProblem({ at: 'name', text: 'Give it a name: what does it answer?' });
    setSending(true);
    const id = newId('q');
    const query: SavedQuery = {
      id,
      name,
      description: '',
      section: '',
      table,
      condition: '',
      columns: startColumns(app.design, table),
      order: [],
      limit: null,
    };
    const outcome = await change({ kind: 'put_query', query });
    if (outcome === true) return onMade(id);
    setSending(false);
    setProblem({ at: outcome.includes('called') ? 'name' : 'form', text: outcome });
  };
  return (
    <FormDialog
      title="A new query"
      says="A question to the records. Its grain is what one row of the answer stands for."
      onClose={onClose}
      onSubmit={() => void send()}
      verb="Make the query"
      isSending={isSending}
    >
      <TextField
        label="Name"
        value={name}
        autoFocus
        required
        onChange={(event) => (setName(event.target.value), setProblem(null))}
        error={problem?.at === 'name'}
        helperText={problem?.at === 'name' ? problem.text : undefined}
      />
      <TextField select label="One row per record of" value={table} onChange={(event) => setTable(event.target.value)}>
        {app.design.tables.map((one) => (
          <MenuItem key={one.id} value={one.id}>
            {one.name}
          </MenuItem>
        ))}
      </TextField>
      {problem?.at === 'form' && <Note kind="bad">{problem.text}</Note>}
    </FormDialog>
  );
}
