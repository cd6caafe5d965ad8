import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { contract, type LogEntry } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useAppId } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { differenceWords } from './difference-words.js';

interface CompareVersionsProps {
  /** The newest first; there are at least two. */
  readonly entries: readonly LogEntry[];
  readonly onClose: () => void;
}

/** What is different between any two versions. */
export function CompareVersions({ entries, onClose }: CompareVersionsProps) {
  const app = useAppId();
  const [one, setOne] = useState(entries[1]?.version ?? 1);
  const [other, setOther] = useState(entries[0]?.version ?? 1);
  const [from, to] = [Math.min(one, other), Math.max(one, other)];
  const { data, error } = useQuery({
    queryKey: [...keys.log(app), 'compare', from, to],
    queryFn: () => call(contract.compareVersions, { params: { app }, query: { from, to } }),
    // A version never changes.
    staleTime: Infinity,
    retry: false,
  });
  const choice = (label: string, version: number, choose: (version: number) => void) => (
    <TextField select label={label} value={version} onChange={(event) => choose(Number(event.target.value))}>
      {entries.map((entry) => (
        <MenuItem key={entry.version} value={entry.version}>
          {locale().count(entry.version)}: {entry.description}, {locale().moment(entry.at)}
        </MenuItem>
      ))}
    </TextField>
  );
  return (
    <FormDialog title="Compare two versions" onClose={onClose} onSubmit={onClose} verb="Close" isSending={false} isDone>
      {choice('One version', one, setOne)}
      {choice('The other', other, setOther)}
      {error !== null && <Note kind="bad">{messageOf(error)}</Note>}
      {data === undefined && error === null && <Waiting />}
      {data?.differences.length === 0 && <p>Both are the same.</p>}
      {data !== undefined && data.differences.length > 0 && (
        <>
          <p className="q">
            From version {locale().count(from)} to version {locale().count(to)}:
          </p>
          <ul className="touches" aria-label="What is different">
            {data.differences.map((difference, i) => (
              <li key={i}>{differenceWords(difference, 'did')}</li>
            ))}
          </ul>
        </>
      )}
    </FormDialog>
  );
}
