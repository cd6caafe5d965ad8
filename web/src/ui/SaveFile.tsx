import Button from '@mui/material/Button';
import { DownloadSimpleIcon } from '@phosphor-icons/react';
import type { HttpRoute } from '@bibliona/core';
import { useState } from 'react';
import { download, messageOf, type Values } from '../state/api.js';
import { Note } from './Note.js';

/** Saves what a route streams as a file; while it is made the button says so, and when it fails why. */
export function SaveFile(props: {
  readonly says: string;
  readonly route: HttpRoute;
  readonly params: Values;
  readonly query?: Values;
  /** What the file is called. */
  readonly name: string;
}) {
  const { says, route, params, query, name } = props;
  const [state, setState] = useState<{ readonly kind: 'idle' | 'saving' } | { readonly kind: 'failed'; readonly why: string }>({ kind: 'idle' });
  const save = async (): Promise<void> => {
    setState({ kind: 'saving' });
    try {
      await download(route, params, name, query);
      setState({ kind: 'idle' });
    } catch (error) {
      setState({ kind: 'failed', why: messageOf(error) });
    }
  };
  return (
    <>
      {state.kind === 'failed' && <Note kind="bad">{state.why}</Note>}
      <Button variant="outlined" startIcon={<DownloadSimpleIcon />} loading={state.kind === 'saving'} loadingPosition="start" onClick={() => void save()}>
        {says}
      </Button>
    </>
  );
}
