import { contract, type ImportAnswer, type HttpRoute } from '@bibliona/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { answerOf, call, messageOf, pathOf } from '../../state/api.js';
import { useAppId } from '../../state/app.js';
import { keys } from '../../state/keys.js';

/** Sends a file with its progress, which `fetch` does not tell. */
export function uploadFile(app: string, file: File, onPart: (part: number) => void): { readonly answer: Promise<ImportAnswer>; readonly stop: () => void } {
  const request = new XMLHttpRequest();
  const answer = new Promise<ImportAnswer>((resolve, reject) => {
    request.upload.onprogress = (event) => onPart(event.total === 0 ? 0 : event.loaded / event.total);
    request.onload = () => {
      answerOf(new Response(request.responseText, { status: request.status })).then((json) => resolve(json as ImportAnswer), reject);
    };
    request.onerror = () => reject(new Error('The file could not be sent'));
    request.onabort = () => reject(new DOMException('stopped', 'AbortError'));
  });
  request.open('POST', pathOf(contract.uploadImport, { app }, { name: file.name }));
  request.setRequestHeader('Content-Type', 'application/octet-stream');
  request.send(file);
  return { answer, stop: () => request.abort() };
}

const askEvery = 300;

/** An import as it is now, asked for again while it is at work. */
export function useImport(id: string) {
  const app = useAppId();
  const client = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const key = keys.import(app, id);
  const { data: answer, error } = useQuery({
    queryKey: key,
    queryFn: () => call(contract.readImport, { params: { app, import: id } }),
    refetchInterval: ({ state }) => (state.data?.state === 'reading' || state.data?.state === 'running' ? askEvery : false),
  });
  const state = answer?.state;
  useEffect(() => {
    // What came in shows everywhere: in the design, the counts and the lists.
    if (state === 'done') void client.invalidateQueries({ queryKey: keys.app(app), predicate: (query) => query.queryKey[2] !== 'import' });
  }, [state, client, app]);
  const act = async (route: HttpRoute, body: unknown = {}): Promise<void> => {
    setProblem(null);
    try {
      client.setQueryData(key, await call(route, { params: { app, import: id }, body }));
    } catch (refusal) {
      setProblem(messageOf(refusal));
      void client.invalidateQueries({ queryKey: keys.app(app) });
    }
  };
  return { answer, problem: problem ?? (error === null ? null : messageOf(error)), act };
}
