import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { useMaking } from '../use-making.js';
import { NameField } from '../parts/NameField.js';

/** A new table: what it is called and the first thing that is written down of each record. */
export default function TableDialog({ onClose, onMade }: { readonly onClose: () => void; readonly onMade: (table: string) => void }) {
  const app = useApp();
  const { isSending, problemAt, say, clear, make } = useMaking('table');
  const [name, setName] = useState('');
  const [first, setFirst] = useState('Name');
  const [section, setSection] = useState('');
  const sections = [...new Set(app.design.tables.map((table) => table.section).filter((each) => each !== ''))];
  const send = (): void => {
    if (name.trim() === '') return say('name', 'Enter a name, best in the plural');
    const id = newId('t');
    const fields =
      first.trim() === '' ? [] : [{ kind: 'text' as const, id: newId('f'), name: first, description: '', required: true, unique: false, default: null }];
    void make([{ kind: 'add_table', id, name, description: '', section: section.trim(), form: newId('fm'), list: newId('l'), fields }], () => onMade(id));
  };
  return (
    <FormDialog
      title="A new table"
      intro="Each record is one thing. The table starts with a form and a list."
      onClose={onClose}
      onSubmit={send}
      verb="Make the table"
      isSending={isSending}
      problem={problemAt('form')}
    >
      <NameField value={name} onChange={(typed) => (setName(typed), clear())} problem={problemAt('name')} />
      <TextField
        label="First field"
        value={first}
        onChange={(event) => setFirst(event.target.value)}
        helperText="The name of a record. You can add more fields later."
      />
      <TextField
        label="Section of the shelf"
        value={section}
        onChange={(event) => setSection(event.target.value)}
        helperText="Tables of one section are listed together, on the left. You can leave it empty."
        slotProps={{ htmlInput: { list: 'sections', maxLength: 60 } }}
      />
      <datalist id="sections">
        {sections.map((each) => (
          <option key={each} value={each} />
        ))}
      </datalist>
    </FormDialog>
  );
}
