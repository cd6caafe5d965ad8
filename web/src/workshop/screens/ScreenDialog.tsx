import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { childrenOf, listFor, shownTables, tableOf, type ArrangementKind } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { NameField } from '../parts/NameField.js';
import { TableField } from '../parts/TableField.js';
import { useMaking } from '../use-making.js';
import { firstForm } from './form-draft.js';
import { arranged, firstList, ways } from './list-draft.js';

/** A new form or list: of which table, what it begins with, what it is called. It is complete before anything is changed. */
export function ScreenDialog(props: {
  readonly what: 'form' | 'list';
  /** The table that is at hand. */
  readonly table: string | undefined;
  readonly onClose: () => void;
  readonly onMade: (id: string) => void;
}) {
  const { what, onClose, onMade } = props;
  const { design } = useApp();
  const tables = shownTables(design);
  const { isSending, problemAt, say, clear, make } = useMaking(what);
  const [tableId, setTable] = useState(props.table ?? tables[0]?.id ?? '');
  const [withChildren, setChildren] = useState<'yes' | 'no'>('yes');
  const [kind, setKind] = useState<ArrangementKind>('grid');
  const [name, setName] = useState('');
  const table = tables.find((one) => one.id === tableId);
  const children = table === undefined ? [] : childrenOf(design, table.id);
  const send = (): void => {
    if (table === undefined) return;
    if (name.trim() === '') return say('name', 'Enter a name that says what it is for');
    const id = newId(what === 'form' ? 'fm' : 'li');
    if (what === 'form')
      return void make(
        [{ kind: 'put', part: 'form', value: firstForm(design, tableOf(design, table.id), { id, name: name.trim() }, withChildren === 'yes') }],
        () => onMade(id),
      );
    const arrangement = arranged(kind, table);
    if (arrangement === null) return say('form', `${table.name} has no field for this arrangement. Add one at the station Tables, or choose another.`);
    const value = firstList({ id, name: name.trim(), table: table.id }, listFor(design, table.id).columns, arrangement);
    return void make([{ kind: 'put', part: 'list', value }], () => onMade(id));
  };
  return (
    <FormDialog
      title={what === 'form' ? 'A new form' : 'A new list'}
      intro={what === 'form' ? 'In a form people add, read and change one record.' : 'A list shows many records at once.'}
      onClose={onClose}
      onSubmit={send}
      verb={what === 'form' ? 'Make the form' : 'Make the list'}
      isSending={isSending}
      problem={problemAt('form')}
    >
      <TableField label="Of the table" value={tableId} tables={tables} onChange={(id) => (setTable(id), clear())} />
      {what === 'form' && children.length > 0 && (
        <RadioGroup value={withChildren} onChange={(_, value) => setChildren(value as 'yes' | 'no')} aria-label="What it begins with">
          <FormControlLabel value="yes" control={<Radio />} label={`The record with ${children.map((one) => one.childrenName).join(', ')}`} />
          <FormControlLabel value="no" control={<Radio />} label="The record alone" />
        </RadioGroup>
      )}
      {what === 'list' && table !== undefined && (
        <RadioGroup value={kind} onChange={(_, value) => (setKind(value as ArrangementKind), clear())} aria-label="How it is arranged" row>
          {(Object.keys(ways) as ArrangementKind[]).map((one) => (
            <FormControlLabel key={one} value={one} control={<Radio />} label={ways[one].name} disabled={arranged(one, table) === null} />
          ))}
        </RadioGroup>
      )}
      <NameField isLater value={name} onChange={(typed) => (setName(typed), clear())} problem={problemAt('name')} />
    </FormDialog>
  );
}
