import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { fieldKindNames, fieldKinds, FieldPlan, proposedKind, type DesignChange, type FieldKind, type Table } from '@bibliona/core';
import { useRef, useState, type ClipboardEvent, type KeyboardEvent } from 'react';
import { fieldViews } from '../../fields/kinds.js';
import { KindIcon } from '../../fields/KindIcon.js';
import { newId } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { Note } from '../../ui/Note.js';

interface NewField {
  readonly name: string;
  readonly kind: FieldKind;
}

/** The plan of a field with the settings that its kind begins with. */
function planOf({ name, kind }: NewField) {
  const { settings } = fieldViews[kind];
  const read = settings.read(settings.start(undefined));
  return FieldPlan.safeParse({ kind, id: newId('f'), name: name.trim(), ...(read.ok ? read.plan : {}) });
}
/** The kinds that need nothing but a name; the others are made in the editor of a field. */
const kinds = fieldKindNames.filter((kind) => planOf({ name: 'Name', kind }).success);
/** A pasted list is of so many names at most: more is no list of fields. */
const most = 100;

/** Fields made one after another: a name, Enter, the next. Several lines that are pasted make a field each. */
export function QuickFields({
  table,
  at,
  onClose,
}: {
  readonly table: Table;
  /** Their place among the fields; else they come last. */ readonly at?: number;
  readonly onClose?: () => void;
}) {
  const { change } = useDesignChange();
  const [draft, setDraft] = useState<NewField>({ name: '', kind: 'text' });
  // Until a kind is chosen it follows the name.
  const [isChosen, setChosen] = useState(false);
  const [list, setList] = useState<readonly NewField[] | null>(null);
  const [isSending, setSending] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);

  const add = async (fields: readonly NewField[]): Promise<void> => {
    if (fields.length === 0 || isSending) return;
    const changes: DesignChange[] = [];
    for (const field of fields) {
      const plan = planOf(field);
      if (!plan.success) return setProblem(`${field.name.trim()}: ${plan.error.issues[0]?.message ?? 'this name cannot be used'}`);
      changes.push({ kind: 'add_field', table: table.id, field: plan.data, ...(at === undefined ? {} : { at: at + changes.length }) });
    }
    setSending(true);
    const outcome = await change(...changes);
    setSending(false);
    if (outcome !== true) return setProblem(outcome.text);
    setProblem(null);
    setList(null);
    setChosen(false);
    setDraft({ name: '', kind: 'text' });
    input.current?.focus();
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key === 'Escape' && onClose !== undefined) return onClose();
    if (event.key !== 'Enter' || draft.name.trim() === '') return;
    event.preventDefault();
    void add([draft]);
  };
  const onPaste = (event: ClipboardEvent): void => {
    const names = event.clipboardData
      .getData('text/plain')
      .split(/[\r\n\t]+/u)
      .map((name) => name.trim())
      .filter((name) => name !== '');
    if (names.length < 2) return;
    event.preventDefault();
    if (names.length > most) return setProblem(`These are ${names.length} names. Paste up to ${most} at a time.`);
    setProblem(null);
    setList(names.map((name) => ({ name, kind: proposedKind(name) })));
  };

  return (
    <div className="quick-fields">
      {list === null ? (
        <>
          <TextField
            label="Name of a new field"
            value={draft.name}
            onChange={({ target: { value: name } }) => {
              setProblem(null);
              setDraft({ name, kind: isChosen ? draft.kind : proposedKind(name) });
            }}
            onKeyDown={onKeyDown}
            onPaste={onPaste}
            inputRef={input}
            autoFocus={at !== undefined}
            helperText={draft.name === '' ? 'Enter adds it. Paste several lines to add them all.' : undefined}
          />
          {draft.name.trim() !== '' && (
            <div className="quick-field">
              <Kind
                label="Kind of the new field"
                value={draft.kind}
                onChange={(kind) => {
                  setChosen(true);
                  setDraft({ ...draft, kind });
                  input.current?.focus();
                }}
              />
              <Button variant="outlined" loading={isSending} onClick={() => void add([draft])}>
                Add
              </Button>
            </div>
          )}
        </>
      ) : (
        <>
          <ul aria-label="New fields">
            {list.map((field, i) => (
              <li key={i} className="quick-field">
                <span className="el">{field.name}</span>
                <Kind
                  label={`Kind of ${field.name}`}
                  value={field.kind}
                  onChange={(kind) => setList(list.map((other, at) => (at === i ? { ...other, kind } : other)))}
                />
              </li>
            ))}
          </ul>
          <div className="quick-field">
            <Button onClick={() => (setList(null), setProblem(null))}>Cancel</Button>
            <Button variant="contained" autoFocus loading={isSending} onClick={() => void add(list)}>
              Add {list.length} fields
            </Button>
          </div>
        </>
      )}
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </div>
  );
}

function Kind({ label, value, onChange }: { readonly label: string; readonly value: FieldKind; readonly onChange: (kind: FieldKind) => void }) {
  return (
    <TextField
      select
      hiddenLabel
      value={value}
      onChange={(event) => onChange(event.target.value as FieldKind)}
      slotProps={{ select: { SelectDisplayProps: { 'aria-label': label }, renderValue: (kind) => fieldKinds[kind as FieldKind].word } }}
    >
      {kinds.map((kind) => (
        <MenuItem key={kind} value={kind} className="kind-item">
          <KindIcon kind={kind} />
          <span>{fieldKinds[kind].word}</span>
        </MenuItem>
      ))}
    </TextField>
  );
}
