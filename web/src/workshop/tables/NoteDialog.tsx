import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import type { DiagramNote } from '@bibliona/core';
import { TrashIcon } from '@phosphor-icons/react';
import { useState } from 'react';
import { newId } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { ToneField } from '../parts/ToneField.js';
import { useMaking } from '../use-making.js';

const longest = 1000;

/** A text on the diagram: a new one, or what is changed of one. */
export default function NoteDialog({
  old,
  onClose,
  onMade,
}: {
  readonly old: DiagramNote | null;
  readonly onClose: () => void;
  readonly onMade: (id: string) => void;
}) {
  const { isSending, problemAt, say, clear, make } = useMaking('note');
  const [text, setText] = useState(old?.text ?? '');
  const [tone, setTone] = useState(old?.tone ?? 'gold');
  const send = (): void => {
    if (text.trim() === '') return say('text', 'Enter what the note says');
    const id = old?.id ?? newId('n');
    void make([{ kind: 'put', part: 'note', value: { id, text: text.trim(), tone } }], () => onMade(id));
  };
  return (
    <FormDialog
      title={old === null ? 'A new note' : 'Note'}
      intro="All who build the app see it on the diagram."
      onClose={onClose}
      onSubmit={send}
      verb={old === null ? 'Add the note' : 'Save'}
      isSending={isSending}
      problem={problemAt('form')}
    >
      <TextField
        label="Text"
        value={text}
        onChange={(event) => (setText(event.target.value), clear())}
        multiline
        minRows={3}
        autoFocus
        required
        error={problemAt('text') !== undefined}
        helperText={problemAt('text')}
        slotProps={{ htmlInput: { maxLength: longest } }}
      />
      <ToneField value={tone} onChange={setTone} />
      {old !== null && (
        <Button className="go" startIcon={<TrashIcon />} onClick={() => void make([{ kind: 'remove', part: 'note', id: old.id }], onClose)}>
          Remove the note
        </Button>
      )}
    </FormDialog>
  );
}
