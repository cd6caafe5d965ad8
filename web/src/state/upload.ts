import type { HttpRoute } from '@bibliona/core';
import { answerOf, pathOf, type Values } from './api.js';

export interface Upload<T> {
  readonly answer: Promise<T>;
  readonly stop: () => void;
}

/** Sends a file with its progress, from 0 to 1, which `fetch` does not tell. */
export function upload<R extends HttpRoute>(
  route: R,
  asked: { readonly params: Values; readonly query: Values },
  file: Blob,
  onPart: (part: number) => void,
): Upload<R['answer']['_zod']['output']> {
  const request = new XMLHttpRequest();
  const answer = new Promise<R['answer']['_zod']['output']>((resolve, reject) => {
    request.upload.onprogress = (event) => onPart(event.total === 0 ? 0 : event.loaded / event.total);
    request.onload = () => {
      answerOf(new Response(request.responseText, { status: request.status })).then(resolve, reject);
    };
    request.onerror = () => reject(new Error('The file could not be sent'));
    request.onabort = () => reject(new DOMException('stopped', 'AbortError'));
  });
  request.open('POST', pathOf(route, asked.params, asked.query));
  request.setRequestHeader('Content-Type', 'application/octet-stream');
  request.send(file);
  return { answer, stop: () => request.abort() };
}
