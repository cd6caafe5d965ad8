import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';

/** A new table: what it is called and the first thing that is written down of each record. */
export function TableDialog({ onClose, onMade }: { readonly onClose: () => void; readonly onMade: (table: string) => void }) {
  const app = useApp();
  const { change } = useDesignChange();
  const [name, setName] = useState('');
  const [first, setFirst] = useState('Name');
  const [section, setSection] = useState('');
  const [problem, setProblem] = useState<{ readonly at: 'name' | 'form'; readonly text: string } | null>(null);
  const [isSending, setSending] = useState(false);
  const sections = [...new Set(app.design.tables.map((table) => table.section).filter((one) => one !== ''))];
  const send = async (): Promise<void> => {
    if (name.trim() === '') return setProblem({ at: 'name', text: 'Give it a name, best in the plural: Hives, Visits' });
    setSending(true);
    const id = newId('t');
    const fields =
      first.trim() === '' ? [] : [{ kind: 'text' as const, id: newId('f'), name: first, description: '', required: true, unique: false, default: null }];
    const outcome = await change({ kind: 'add_table', id, name, description: '', section: section.trim(), form: newId('fm'), list: newId('l'), fields });
    if (outcome === true) return onMade(id);
    setSending(false);
    setProblem({ at: outcome.includes('called') ? 'name' : 'form', text: outcome });
  };
  return (
    <FormDialog
      title="A new table"
      says="One record of it is one thing. Its first form and list are there at once."
      onClose={onClose}
      onSubmit={() => void send()}
      verb="Make the table"
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
      <TextField
        label="First field"
        value={first}
        onChange={(event) => setFirst(event.target.value)}
        helperText="What a record is called by. More fields can follow at any time."
      />
      <TextField
        label="Section of the shelf"
        value={section}
        onChange={(event) => setSection(event.target.value)}
        slotProps={{ htmlInput: { list: 'sections' } }}
      />
      <datalist id="sections">
        {sections.map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
      {problem?.at === 'form' && <Note kind="bad">{problem.text}</Note>}
    </FormDialog>
  );
}
