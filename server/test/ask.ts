/** Requests as tests send them: with `fetch` each takes four times the processor, and all tests together send a hundred thousand. */
import { Agent, request, type IncomingMessage } from 'node:http';

export interface Raw {
  readonly status: number;
  readonly headers: Headers;
  readonly bytes: Buffer;
}

// Connections that are not in use end before the server ends them.
const agent = new Agent({ keepAlive: true, timeout: 4000 });

/** Sends a request and waits for all of its answer. Raises an error when there is none. */
export async function ask(
  url: string,
  asked: { readonly method: string; readonly headers: Readonly<Record<string, string>>; readonly body?: string | Uint8Array | undefined },
): Promise<Raw> {
  const { method, headers, body } = asked;
  const answer = await new Promise<IncomingMessage>((resolve, reject) => {
    request(url, { method, headers, agent }, resolve).on('error', reject).end(body);
  });
  const parts: Buffer[] = [];
  for await (const part of answer) parts.push(part as Buffer);
  const told = new Headers();
  for (let i = 0; i < answer.rawHeaders.length; i += 2) told.append(answer.rawHeaders[i] ?? '', answer.rawHeaders[i + 1] ?? '');
  return { status: answer.statusCode ?? 0, headers: told, bytes: Buffer.concat(parts) };
}
