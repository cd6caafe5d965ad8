import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { newId } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { FormDialog } from '../../ui/FormDialog.js';

/** A new dashboard: what it is called. Its tiles are added on the sheet. */
export function DashboardDialog({ onClose, onMade }: { readonly onClose: () => void; readonly onMade: (dashboard: string) => void }) {
  const { change } = useDesignChange();
  const [name, setName] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const send = async (): Promise<void> => {
    if (name.trim() === '') return setProblem('Give it a name: what is seen here at a glance?');
    setSending(true);
    const id = newId('da');
    const outcome = await change({ kind: 'put_dashboard', dashboard: { id, name, description: '', section: '', tiles: [] } });
    if (outcome === true) return onMade(id);
    setSending(false);
    setProblem(outcome);
  };
  return (
    <FormDialog
      title="A new dashboard"
      says="A screen of figures and charts, each of the records as they are when it is looked at."
      onClose={onClose}
      onSubmit={() => void send()}
      verb="Make the dashboard"
      isSending={isSending}
    >
      <TextField
        label="Name"
        value={name}
        autoFocus
        required
        onChange={(event) => (setName(event.target.value), setProblem(null))}
        error={problem !== null}
        helperText={problem ?? undefined}
      />
    </FormDialog>
  );
}
