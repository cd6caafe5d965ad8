import { contract, type DesignDifference, type LogEntry } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { useRestore } from '../../state/design.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { RecordLinks } from '../RecordLinks.js';

const verbs = { added: 'Adds', removed: 'Removes', renamed: 'Renames', changed: 'Changes' } as const;

function inWords({ kind, what, name, was, table }: DesignDifference): string {
  const of = table === null ? '' : ` of ${table}`;
  return kind === 'renamed' ? `${verbs[kind]} the ${what} ${was ?? ''}${of} to ${name}` : `${verbs[kind]} the ${what} ${name}${of}`;
}

/** What restoring a version would change in the app and in its records, and the button that does it. */
export function RestoreVersion({ entry, onClose }: { readonly entry: LogEntry; readonly onClose: () => void }) {
  const app = useApp();
  const restore = useRestore();
  const [isSending, setSending] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const { data, error } = useQuery({
    queryKey: [...keys.log(app.id), app.version, 'restore', entry.version],
    queryFn: () => call(contract.previewRestore, { params: { app: app.id }, body: { version: app.version, to: entry.version } }),
    gcTime: 0,
  });
  const found = data?.steps.filter((step) => step.found !== null) ?? [];
  const isSame = data?.differences.length === 0;
  const send = async (): Promise<void> => {
    if (data === undefined) return;
    if (isSame) return onClose();
    setSending(true);
    const outcome = await restore(entry.version);
    setSending(false);
    if (outcome === true) onClose();
    else setProblem(outcome.text);
  };
  return (
    <FormDialog
      title={`Restore version ${locale().count(entry.version)}?`}
      onClose={onClose}
      onSubmit={() => void send()}
      verb={isSame ? 'Close' : 'Restore this version'}
      isSending={isSending}
    >
      <p className="q">
        {entry.says}. {entry.person}, {locale().moment(entry.at)}
      </p>
      {error !== null && <Note kind="bad">{messageOf(error)}</Note>}
      {data === undefined && error === null && <Waiting />}
      {isSame && <p>This version is the same as what you see now.</p>}
      {data !== undefined && !isSame && (
        <ul className="touches" aria-label="What restoring changes">
          {data.differences.map((difference, i) => (
            <li key={i}>{inWords(difference)}</li>
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
