import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { shownTables, triggers, type Automation } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { useMaking } from '../use-making.js';
import { TableField } from '../parts/TableField.js';
import { NameField } from '../parts/NameField.js';
import { triggerKinds } from './trigger-kinds.js';

/** A new automation: what triggers it. What it does then is written on the sheet. */
export function AutomationDialog({ onClose, onMade }: { readonly onClose: () => void; readonly onMade: (automation: string) => void }) {
  const { design } = useApp();
  const { isSending, problemAt, say, clear, make } = useMaking('automation');
  const [name, setName] = useState('');
  const [table, setTable] = useState(design.routes[0]?.table ?? shownTables(design)[0]?.id ?? '');
  const canMove = triggerKinds.moved.isOffered(table, design);
  const [chosen, setOn] = useState<Automation['on']>('added');
  const on = triggerKinds[chosen].isOffered(table, design) ? chosen : 'added';
  const send = (): void => {
    if (name.trim() === '') return say('name', 'Enter a name that says what it does');
    const id = newId('au');
    const automation: Automation = {
      id,
      name,
      description: '',
      section: '',
      // It begins to work when its steps are written and it is switched on.
      isOn: false,
      table,
      on,
      fields: [],
      moves: [],
      condition: '',
      steps: [],
    };
    void make([{ kind: 'put', part: 'automation', value: automation }], () => onMade(id));
  };
  return (
    <FormDialog
      title="A new automation"
      intro="An automation runs by itself when a record is saved. You add its steps next. It is off until you turn it on."
      onClose={onClose}
      onSubmit={send}
      verb="Make the automation"
      isSending={isSending}
      problem={problemAt('form')}
    >
      <NameField value={name} onChange={(typed) => (setName(typed), clear())} problem={problemAt('name')} />
      <TableField label="When a record of" value={table} tables={shownTables(design)} onChange={(id) => setTable(id)} />
      <TextField
        select
        label="What happens"
        value={on}
        onChange={(event) => setOn(event.target.value as Automation['on'])}
        helperText={canMove ? undefined : 'In tables with a route, moves can trigger it too.'}
      >
        {triggers
          .filter((trigger) => triggerKinds[trigger].isOffered(table, design))
          .map((trigger) => (
            <MenuItem key={trigger} value={trigger}>
              it {triggerKinds[trigger].words}
            </MenuItem>
          ))}
      </TextField>
    </FormDialog>
  );
}
