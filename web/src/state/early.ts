/** What the first script of the page has asked the server for already, by its path. */
const started = new Map<string, Promise<Response>>();

export function startEarly(path: string): void {
  const response = fetch(path);
  // Whoever takes it hears of what went wrong.
  response.catch(() => undefined);
  started.set(path, response);
}

/** The answer that is on its way, once: what is asked again is asked anew. */
export function takeEarly(path: string): Promise<Response> | undefined {
  const response = started.get(path);
  started.delete(path);
  return response;
}
