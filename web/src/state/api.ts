/** Calls the routes of the contract. What the server refuses arrives as an `ApiRefusal` whose message can be shown. */
import { RefusalAnswer, type HttpRoute, type PlacedIssue, type RefusalCode } from '@bibliona/core';
import { takeArrived, takeEarly } from './early.js';
import { lookHeaders } from './look-as.js';

/** Tells this open screen apart from others: it is not told of its own saves. */
export const tab: string = crypto.randomUUID();

export class ApiRefusal extends Error {
  constructor(readonly answer: RefusalAnswer) {
    super(answer.message);
  }
  get code(): RefusalCode {
    return this.answer.code;
  }
  get issues(): readonly PlacedIssue[] {
    return this.answer.issues;
  }
}

/** What to tell a person about anything that a call raised. */
export const messageOf = (error: unknown): string =>
  error instanceof ApiRefusal ? error.message : 'The server cannot be reached. Check the connection and try again.';

export type Values = Readonly<Record<string, string | number | undefined>>;

interface Asked<R extends HttpRoute> {
  readonly params?: Values;
  readonly query?: Values;
  readonly body?: R['body']['_zod']['input'];
  readonly signal?: AbortSignal;
  /** As whom a builder asks; else as at the Desk at hand. */
  readonly lookAs?: string;
}

let signedInAgain: () => Promise<boolean> = () => Promise.resolve(false);
/** `wait` is called when the server no longer knows who asks; it gives true when the request can be sent again. */
export const whenSignedOut = (wait: () => Promise<boolean>): void => {
  signedInAgain = wait;
};

export function pathOf(route: HttpRoute, params: Values = {}, query: Values = {}): string {
  const path = route.path.replace(/:(\w+)/gu, (_, name: string) => encodeURIComponent(String(params[name] ?? '')));
  const search = new URLSearchParams(Object.entries(query).flatMap(([key, value]) => (value === undefined || value === '' ? [] : [[key, String(value)]])));
  return search.size === 0 ? path : `${path}?${search.toString()}`;
}

export async function answerOf(response: Response): Promise<unknown> {
  const json: unknown = await response.json().catch(() => null);
  if (response.ok) return json;
  const refusal = RefusalAnswer.safeParse(json);
  if (!refusal.success) throw new ApiRefusal({ code: 'unavailable', message: 'The server does not answer as expected. Try again in a moment.', issues: [] });
  throw new ApiRefusal(refusal.data);
}

/** Sends a request, once more when its session had ended and the person signed in again. */
async function send(ask: () => Promise<Response>): Promise<Response> {
  const response = await ask();
  if (response.status !== 401) return response;
  const refusal = RefusalAnswer.safeParse(
    await response
      .clone()
      .json()
      .catch(() => null),
  );
  return refusal.data?.code === 'not_signed_in' && (await signedInAgain()) ? ask() : response;
}

/** Has the browser save what a route streams, under that name. */
export async function download(route: HttpRoute, params: Values, name: string, query: Values = {}): Promise<void> {
  const response = await send(() => fetch(pathOf(route, params, query), { headers: lookHeaders() }));
  if (!response.ok) await answerOf(response);
  saveBlob(name, await response.blob());
}

/** Saves a text as a file. */
export const saveText = (name: string, text: string, type = 'application/json'): void => saveBlob(name, new Blob([text], { type }));

/** Saves bytes as a file. */
export function saveBlob(name: string, blob: Blob): void {
  const url = URL.createObjectURL(blob);
  const link = Object.assign(document.createElement('a'), { href: url, download: name });
  link.click();
  // The browser has begun to read it by then.
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}

export async function call<R extends HttpRoute>(route: R, asked: Asked<R> = {}): Promise<R['answer']['_zod']['output']> {
  const path = pathOf(route, asked.params, asked.query);
  const early = route.method === 'GET' ? await takeEarly(path) : undefined;
  if (early !== undefined) return early;
  const response = await send(() =>
    fetch(path, {
      method: route.method,
      headers: {
        ...(asked.lookAs === undefined ? lookHeaders() : { 'x-look-as': asked.lookAs }),
        ...(route.method === 'POST' ? { 'Content-Type': 'application/json', 'x-tab': tab } : {}),
      },
      ...(route.method === 'POST' ? { body: JSON.stringify(asked.body ?? {}) } : {}),
      ...(asked.signal === undefined ? {} : { signal: asked.signal }),
    }),
  );
  return answerOf(response);
}

/** The answer of a route that the first script asked for, if it has come: a screen that begins with it is drawn once. */
export const arrivedOf = <R extends HttpRoute>(route: R, asked: Asked<R>): R['answer']['_zod']['output'] | undefined =>
  takeArrived(pathOf(route, asked.params, asked.query));
