import { contract, type DesignTarget } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { useRestore } from '../../state/design.js';
import { keys } from '../../state/keys.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { RecordLinks } from '../RecordLinks.js';
import { differenceWords } from './difference-words.js';

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
  const app = useApp();
  const restore = useRestore();
  const [isSending, setSending] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const { data, error } = useQuery({
    queryKey: [...keys.log(app.id), app.version, 'restore', to],
    queryFn: () => call(contract.previewRestore, { params: { app: app.id }, body: { version: app.version, to } }),
    gcTime: 0,
    retry: false,
  });
  const found = data?.steps.filter((step) => step.found !== null) ?? [];
  const isSame = data?.differences.length === 0;
  const send = async (): Promise<void> => {
    if (data === undefined || isSame) return onClose();
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
      isSending={isSending || (data === undefined && error === null)}
    >
      <p className="q">{from}</p>
      {error !== null && <Note kind="bad">{messageOf(error)}</Note>}
      {data === undefined && error === null && <Waiting />}
      {isSame && <p>It is the same as what you see now.</p>}
      {data !== undefined && !isSame && (
        <ul className="touches" aria-label="What restoring changes">
          {data.differences.map((difference, i) => (
            <li key={i}>{differenceWords(difference, 'would')}</li>
          ))}
        </ul>
      )}
      {found.length > 0 && (
        <Note kind={found.some((step) => step.blocks) ? 'bad' : 'look'}>
          {found.map((step, i) => (
            <span key={i}>
              {step.found} <RecordLinks records={step.records} />
            </span>
          ))}
        </Note>
      )}
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </FormDialog>
  );
}
