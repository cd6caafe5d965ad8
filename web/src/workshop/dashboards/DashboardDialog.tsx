import { useState } from 'react';
import { newId } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { useMaking } from '../use-making.js';
import { NameField } from '../parts/NameField.js';

/** A new dashboard: what it is called. Its tiles are added on the sheet. */
export function DashboardDialog({ onClose, onMade }: { readonly onClose: () => void; readonly onMade: (dashboard: string) => void }) {
  const { isSending, problemAt, say, clear, make } = useMaking('dashboard');
  const [name, setName] = useState('');
  const send = (): void => {
    if (name.trim() === '') return say('name', 'Enter a name that says what it shows');
    const id = newId('da');
    void make([{ kind: 'put', part: 'dashboard', value: { id, name, description: '', section: '', tiles: [] } }], () => onMade(id));
  };
  return (
    <FormDialog
      title="A new dashboard"
      intro="A dashboard shows figures and charts of your current records."
      onClose={onClose}
      onSubmit={send}
      verb="Make the dashboard"
      isSending={isSending}
    >
      <NameField value={name} onChange={(typed) => (setName(typed), clear())} problem={problemAt('name') ?? problemAt('form')} />
    </FormDialog>
  );
}
