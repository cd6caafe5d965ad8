import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import LinearProgress from '@mui/material/LinearProgress';
import { DownloadSimpleIcon, FileIcon, XIcon } from '@phosphor-icons/react';
import { contract, type MadeFile } from '@bibliona/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { call, download, messageOf } from '../state/api.js';
import { keys } from '../state/keys.js';
import { useMadeFiles } from '../state/made-files.js';
import { sizeWords } from '../ui/files/held.js';

/** In milliseconds. */
const askEvery = 1000;

/** The files that this browser has asked for in this app: how far each is, and then the file. */
export default function MadeFiles({ app }: { readonly app: string }) {
  const asked = useMadeFiles((state) => state.asked);
  const forget = useMadeFiles((state) => state.forget);
  const own = Object.entries(asked).flatMap(([file, its]) => (its === app ? [file] : []));
  const { data, isFetching } = useQuery({
    queryKey: [...keys.madeFiles(app), own],
    queryFn: () => call(contract.readMadeFiles, { params: { app } }),
    refetchInterval: (query) => (query.state.data?.files.some((file) => file.state === 'making') === false ? false : askEvery),
    placeholderData: (before) => before,
  });
  const files = data?.files.filter((file) => own.includes(file.id)) ?? [];
  const gone = data === undefined || isFetching ? [] : own.filter((id) => !data.files.some((file) => file.id === id));
  // The server deletes files after a day.
  useEffect(() => {
    if (gone.length > 0) forget(gone);
  });
  if (files.length === 0) return null;
  return (
    <section className="made-files" aria-label="Files">
      <ul>
        {files.map((file) => (
          <Line key={file.id} app={app} file={file} />
        ))}
      </ul>
    </section>
  );
}

function Line({ app, file }: { readonly app: string; readonly file: MadeFile }) {
  const client = useQueryClient();
  const forget = useMadeFiles((state) => state.forget);
  const isAwaited = useMadeFiles((state) => state.awaited.includes(file.id));
  const stopWaiting = useMadeFiles((state) => state.stopWaiting);
  const params = { app, file: file.id };
  const { mutate: save, ...saving } = useMutation({ mutationFn: () => download(contract.readMadeFile, params, file.name) });
  const remove = useMutation({
    mutationFn: () => call(contract.removeMadeFile, { params, body: {} }),
    onSettled: () => {
      forget([file.id]);
      return client.invalidateQueries({ queryKey: keys.madeFiles(app) });
    },
  });
  const isReady = file.state === 'done';
  useEffect(() => {
    if (!isReady || !isAwaited) return;
    stopWaiting(file.id);
    save();
  }, [isReady, isAwaited, stopWaiting, save, file.id]);
  const isMaking = file.state === 'making';
  const { progress } = file;
  return (
    <li>
      <FileIcon size={20} />
      <div className="grow">
        <span className="el" title={file.name}>
          {file.name}
        </span>
        {isMaking && (
          <LinearProgress
            variant={progress === null || progress === 0 ? 'indeterminate' : 'determinate'}
            value={(progress ?? 0) * 100}
            aria-label={`Progress of ${file.name}`}
          />
        )}
        <span className="q" role={file.state === 'failed' || saving.isError ? 'alert' : 'status'}>
          {saving.isError ? messageOf(saving.error) : statusWords(file, saving.isSuccess)}
        </span>
      </div>
      {isReady && (
        <Button variant="text" startIcon={<DownloadSimpleIcon />} loading={saving.isPending} loadingPosition="start" onClick={() => save()}>
          {saving.isSuccess ? 'Save again' : 'Save'}
        </Button>
      )}
      {isMaking ? (
        <Button variant="text" loading={remove.isPending} onClick={() => remove.mutate()} aria-label={`Cancel ${file.name}`}>
          Cancel
        </Button>
      ) : (
        <IconButton aria-label={`Close ${file.name}`} onClick={() => remove.mutate()}>
          <XIcon size={16} />
        </IconButton>
      )}
    </li>
  );
}

function statusWords({ state, progress, size, message }: MadeFile, isSaved: boolean): string {
  if (state === 'failed') return message ?? '';
  if (state === 'done') return `${isSaved ? 'Saved' : 'Ready'}, ${sizeWords(size ?? 0)}`;
  if (progress === 0) return 'Waiting to start …';
  return progress === null ? 'Reading the records …' : `${Math.floor(progress * 100)}% done. You can go on working.`;
}
