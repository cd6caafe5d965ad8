import { listFor, membersOf, shownExpression, type AppDesign, type SavedQuery } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { useMaking } from '../use-making.js';
import { TableField } from '../parts/TableField.js';
import { NameField } from '../parts/NameField.js';
import { freeName } from './query-draft.js';

// A first answer that fits a screen; further columns are added by hand.
const firstColumns = 5;

/** The first columns of the list: a query begins with an answer, not with nothing. */
function startColumns(design: AppDesign, table: string): SavedQuery['columns'] {
  const listed = listFor(design, table).columns.slice(0, firstColumns);
  const columns: SavedQuery['columns'][number][] = [];
  for (const member of membersOf(design, table))
    if (member.kind === 'field' && listed.includes(member.field.id))
      columns.push({
        id: newId('c'),
        name: freeName(member.field.name, columns),
        expression: shownExpression(member.field, member.name),
        summary: null,
        digits: null,
      });
  return columns;
}

/** A new query: what it is called and what one row of it stands for. */
export function QueryDialog({ onClose, onMade }: { readonly onClose: () => void; readonly onMade: (query: string) => void }) {
  const app = useApp();
  const { isSending, problemAt, say, clear, make } = useMaking('query');
  const [name, setName] = useState('');
  const [table, setTable] = useState(app.design.tables[0]?.id ?? '');
  const send = (): void => {
    if (name.trim() === '') return say('name', 'Enter a name that says what it answers');
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
    void make([{ kind: 'put', part: 'query', value: query }], () => onMade(id));
  };
  return (
    <FormDialog
      title="A new query"
      intro="A query answers a question about your records. Choose what one row of the answer is."
      onClose={onClose}
      onSubmit={send}
      verb="Make the query"
      isSending={isSending}
      problem={problemAt('form')}
    >
      <NameField value={name} onChange={(typed) => (setName(typed), clear())} problem={problemAt('name')} />
      <TableField label="One row per record of" value={table} tables={app.design.tables} onChange={(id) => setTable(id)} />
    </FormDialog>
  );
}
