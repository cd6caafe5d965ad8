import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { freeName, shownTables, type DesignChange, type Relationship, type Table } from '@bibliona/core';
import pluralize from 'pluralize';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';

type Removal = Relationship['whenParentRemoved'];

/** A relationship in one sentence: one … has many …, each of which belongs to one, or to several. */
export default function RelationshipDialog(props: {
  readonly parent: string | undefined;
  readonly child: string | undefined;
  readonly onClose: () => void;
  readonly onMade: (table: string) => void;
}) {
  const { design } = useApp();
  const tables = shownTables(design);
  const { change } = useDesignChange();
  const [parentId, setParent] = useState(props.parent ?? tables.find((table) => table.id !== props.child)?.id ?? '');
  const [childId, setChild] = useState(props.child ?? tables.find((table) => table.id !== parentId)?.id ?? '');
  const [typedField, setField] = useState<string | null>(null);
  const [typedList, setList] = useState<string | null>(null);
  const [typedOther, setOther] = useState<string | null>(null);
  const [isLink, setLink] = useState(false);
  const [isSingle, setSingle] = useState(false);
  const [isRequired, setRequired] = useState(false);
  const [whenRemoved, setWhenRemoved] = useState<Removal>('refuse');
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const parent = tables.find((table) => table.id === parentId);
  const child = tables.find((table) => table.id === childId);
  const fieldName =
    typedField ??
    (parent === undefined || child === undefined
      ? ''
      : freeName(
          pluralize.singular(parent.name),
          child.fields.map((field) => field.name),
        ));
  const freeList = (of: Table, wanted: string, alsoTaken: readonly string[] = []): string =>
    freeName(wanted, [
      ...alsoTaken,
      ...design.relationships.filter((relationship) => relationship.parent === of.id).map((relationship) => relationship.childrenName),
    ]);
  const listName = typedList ?? (parent === undefined || child === undefined ? '' : freeList(parent, child.name));
  // What the many call those they belong to, where they can belong to several.
  const otherName = typedOther ?? (parent === undefined || child === undefined ? '' : freeList(child, parent.name, parent === child ? [listName] : []));
  const asked = (each: Table, many: Table): DesignChange => {
    const field = pluralize.singular(each.name);
    return isLink
      ? {
          kind: 'add_link',
          id: newId('t'),
          name: freeName(
            `${each.name} and ${many.name}`.slice(0, 56),
            design.tables.map((table) => table.name),
          ),
          form: newId('fm'),
          list: newId('l'),
          together: newId('u'),
          sides: [
            { table: each.id, relationship: newId('r'), shownAs: listName, field: newId('f'), fieldName: field },
            { table: many.id, relationship: newId('r'), shownAs: otherName, field: newId('f'), fieldName: freeName(pluralize.singular(many.name), [field]) },
          ],
        }
      : {
          kind: 'add_relationship',
          id: newId('r'),
          parent: each.id,
          child: many.id,
          fieldId: newId('f'),
          fieldName,
          childrenName: listName,
          required: isRequired,
          unique: isSingle,
          whenParentRemoved: whenRemoved,
        };
  };
  const send = async (): Promise<void> => {
    if (parent === undefined || child === undefined) return setProblem('Choose both tables.');
    setSending(true);
    const what = asked(parent, child);
    const outcome = await change(what);
    if (outcome === true) return props.onMade(what.kind === 'add_link' ? what.id : child.id);
    setSending(false);
    setProblem(outcome.text);
  };
  const word = (label: string, value: string, words: Readonly<Record<string, string>>, onPick: (value: string) => void) => (
    <TextField
      select
      label={label}
      hiddenLabel
      value={value}
      onChange={(event) => (onPick(event.target.value), setProblem(null))}
      className="in-sentence"
      slotProps={{ select: { SelectDisplayProps: { 'aria-label': label } } }}
    >
      {Object.entries(words).map(([each, words]) => (
        <MenuItem key={each} value={each}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
  const named = Object.fromEntries(tables.map((table) => [table.id, table.name]));
  const pick = (label: string, value: string, onPick: (id: string) => void) => word(label, value, named, onPick);
  return (
    <FormDialog title="A relationship" onClose={props.onClose} onSubmit={() => void send()} verb="Relate them" isSending={isSending}>
      <div className="says-one-many">
        <span>One record of</span>
        {pick('The one', parentId, setParent)}
        <span>has</span>
        {word('How many it has', isSingle ? 'one' : 'many', { many: 'many records', one: 'at most one record' }, (how) => {
          setSingle(how === 'one');
          if (how === 'one') setLink(false);
        })}
        <span>of</span>
        {pick('The many', childId, setChild)}
        <span>Each of those belongs to</span>
        {word('How many they belong to', isLink ? 'several' : 'one', { one: 'one', several: 'one or several' }, (how) => {
          setLink(how === 'several');
          if (how === 'several') setSingle(false);
        })}
        <span>of {parent?.name ?? 'the first'}</span>
      </div>
      {isLink ? (
        <>
          <TextField
            label={`Shown on ${parent?.name ?? 'the one side'} as`}
            value={listName}
            onChange={(event) => setList(event.target.value)}
            helperText="Several records, picked in the form."
          />
          <TextField label={`Shown on ${child?.name ?? 'the many side'} as`} value={otherName} onChange={(event) => setOther(event.target.value)} />
        </>
      ) : (
        <>
          <TextField
            label={`Field on ${child?.name ?? 'the many side'}`}
            value={fieldName}
            onChange={(event) => setField(event.target.value)}
            helperText={parent === undefined ? undefined : `Names the record of ${parent.name} that it belongs to.`}
          />
          <TextField label={`List on ${parent?.name ?? 'the one side'}`} value={listName} onChange={(event) => setList(event.target.value)} />
          <FormControlLabel
            control={
              <Checkbox
                checked={isRequired}
                onChange={(_, checked) => (setRequired(checked), checked && whenRemoved === 'clear' && setWhenRemoved('refuse'))}
              />
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
        </>
      )}
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </FormDialog>
  );
}
