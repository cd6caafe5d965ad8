import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import type { Role } from '@bibliona/core';
import { useState, type ReactNode } from 'react';
import { useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { Note } from '../../ui/Note.js';

/** Makes something public, through a role that is made where there is none for it yet; below it, on which terms. */
export function PublicSwitch(props: {
  readonly label: string;
  readonly isPublic: boolean;
  /** The role that visitors begin with: one of the app's, or a new one; null: nobody could see anything. */
  readonly role: () => Role | null;
  readonly onOpen: (role: string) => void;
  readonly onClose: () => void;
  readonly children: ReactNode;
}) {
  const { label, isPublic, role, onOpen, onClose, children } = props;
  const { design } = useApp();
  const { change } = useDesignChange();
  const [problem, setProblem] = useState<string | null>(null);
  const [isOpening, setOpening] = useState(false);
  const open = async (): Promise<void> => {
    setProblem(null);
    const made = role();
    if (made === null) return;
    if (!design.roles.includes(made)) {
      setOpening(true);
      const outcome = await change({ kind: 'put', part: 'role', value: made });
      setOpening(false);
      if (outcome !== true) return setProblem(outcome.text);
    }
    onOpen(made.id);
  };
  return (
    <fieldset className="details-group">
      <legend>Public</legend>
      <FormControlLabel
        control={
          <Checkbox
            checked={isPublic || isOpening}
            disabled={isOpening || (!isPublic && role() === null)}
            onChange={(event) => (event.target.checked ? void open() : onClose())}
          />
        }
        label={label}
      />
      {problem !== null && <Note kind="bad">{problem}</Note>}
      {children}
    </fieldset>
  );
}
