/** Requests that the first script of the page has sent, by their paths. */
const started = new Map<string, Promise<Response>>();

export function startEarly(path: string): void {
  const response = fetch(path);
  // An error is handled where the answer is used.
  response.catch(() => undefined);
  started.set(path, response);
}

/** The answer to an early request. Each is given once: later calls ask the server again. */
export function takeEarly(path: string): Promise<Response> | undefined {
  const response = started.get(path);
  started.delete(path);
  return response;
}
