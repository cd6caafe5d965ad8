import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { Relationship, Table } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { singular } from './singular.js';

function freeName(wanted: string, taken: readonly string[]): string {
  const used = new Set(taken.map((name) => name.toLowerCase()));
  if (!used.has(wanted.toLowerCase())) return wanted;
  for (let n = 2; ; n += 1) if (!used.has(`${wanted} ${n}`.toLowerCase())) return `${wanted} ${n}`;
}

type Removal = Relationship['whenParentRemoved'];

/** A relationship in one sentence: one … has many …. */
export function RelationshipDialog(props: {
  readonly parent: string | undefined;
  readonly child: string | undefined;
  readonly onClose: () => void;
  readonly onMade: (table: string) => void;
}) {
  const { design } = useApp();
  const { change } = useDesignChange();
  const [parentId, setParent] = useState(props.parent ?? design.tables.find((table) => table.id !== props.child)?.id ?? '');
  const [childId, setChild] = useState(props.child ?? design.tables.find((table) => table.id !== parentId)?.id ?? '');
  const [typedField, setField] = useState<string | null>(null);
  const [typedList, setList] = useState<string | null>(null);
  const [isRequired, setRequired] = useState(false);
  const [whenRemoved, setWhenRemoved] = useState<Removal>('refuse');
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const parent = design.tables.find((table) => table.id === parentId);
  const child = design.tables.find((table) => table.id === childId);
  const fieldName =
    typedField ??
    (parent === undefined || child === undefined
      ? ''
      : freeName(
          singular(parent.name),
          child.fields.map((field) => field.name),
        ));
  const listName =
    typedList ??
    (parent === undefined || child === undefined
      ? ''
      : freeName(
          child.name,
          design.relationships.filter((relationship) => relationship.parent === parentId).map((relationship) => relationship.childrenName),
        ));
  const send = async (): Promise<void> => {
    if (parent === undefined || child === undefined) return setProblem('Choose both tables.');
    setSending(true);
    const outcome = await change({
      kind: 'add_relationship',
      id: newId('r'),
      parent: parent.id,
      child: child.id,
      fieldId: newId('f'),
      fieldName,
      childrenName: listName,
      required: isRequired,
      whenParentRemoved: whenRemoved,
    });
    if (outcome === true) return props.onMade(child.id);
    setSending(false);
    setProblem(outcome.text);
  };
  const pick = (label: string, value: string, onPick: (id: string) => void) => (
    <TextField
      select
      label={label}
      hiddenLabel
      value={value}
      onChange={(event) => (onPick(event.target.value), setProblem(null))}
      className="in-sentence"
      slotProps={{ select: { SelectDisplayProps: { 'aria-label': label } } }}
    >
      {design.tables.map((table: Table) => (
        <MenuItem key={table.id} value={table.id}>
          {table.name}
        </MenuItem>
      ))}
    </TextField>
  );
  return (
    <FormDialog title="A relationship" onClose={props.onClose} onSubmit={() => void send()} verb="Relate them" isSending={isSending}>
      <div className="says-one-many">
        <span>One record of</span>
        {pick('The one', parentId, setParent)}
        <span>has many records of</span>
        {pick('The many', childId, setChild)}
      </div>
      <TextField
        label={`Field on ${child?.name ?? 'the many side'}`}
        value={fieldName}
        onChange={(event) => setField(event.target.value)}
        helperText={parent === undefined ? undefined : `Names the record of ${parent.name} that it belongs to.`}
      />
      <TextField label={`List on ${parent?.name ?? 'the one side'}`} value={listName} onChange={(event) => setList(event.target.value)} />
      <FormControlLabel
        control={
          <Checkbox checked={isRequired} onChange={(_, checked) => (setRequired(checked), checked && whenRemoved === 'clear' && setWhenRemoved('refuse'))} />
        }
        label={`${fieldName || 'The field'} is required`}
      />
      <TextField
        select
        label={`When a record of ${parent?.name ?? 'the one side'} is removed`}
        value={whenRemoved}
        onChange={(event) => setWhenRemoved(event.target.value as Removal)}
      >
        <MenuItem value="refuse">it is refused while it has {listName}</MenuItem>
        {!isRequired && (
          <MenuItem value="clear">
            its {listName} stay, without {fieldName}
          </MenuItem>
        )}
        <MenuItem value="remove">its {listName} are removed with it</MenuItem>
      </TextField>
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </FormDialog>
  );
}
