import type { DesignTarget } from '@bibliona/core';
import { useState } from 'react';
import { useRestore } from '../../state/design.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { ChangeUnderWay } from '../ChangeUnderWay.js';
import { DesignPreview, useDesignPreview } from './DesignPreview.js';

interface RestoreVersionProps {
  readonly to: DesignTarget;
  /** The question, which is a sentence. */
  readonly title: string;
  /** Where it comes from. */
  readonly from: string;
  readonly onClose: () => void;
}

/** What restoring a version, or the design of a file, would change in the app and in its records, and the button that does it. */
export function RestoreVersion({ to, title, from, onClose }: RestoreVersionProps) {
  const restore = useRestore();
  const [isSending, setSending] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const preview = useDesignPreview(to);
  const isSame = preview.data?.differences.length === 0;
  const send = async (): Promise<void> => {
    if (preview.data === undefined || isSame) return onClose();
    setSending(true);
    const outcome = await restore(to, title);
    setSending(false);
    if (outcome === true) onClose();
    else setProblem(outcome.text);
  };
  return (
    <FormDialog
      title={title}
      onClose={onClose}
      onSubmit={() => void send()}
      verb={isSame ? 'Close' : to.kind === 'version' ? 'Restore this version' : 'Use this design'}
      // Nobody restores what they have not been shown.
      isSending={isSending || preview.isPending}
    >
      <p className="q">{from}</p>
      <DesignPreview preview={preview} />
      <ChangeUnderWay />
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </FormDialog>
  );
}
