/** Screens that are open, in a process of their own: opens streams of live events, or closes them and tells how many events came. */
import { request, type ClientRequest } from 'node:http';
import { once } from 'node:events';

let open: ClientRequest[] = [];
let events = 0;

async function watch(url: string, cookie: string): Promise<void> {
  const asking = request(url, { headers: { cookie, accept: 'text/event-stream' } });
  asking.end();
  const [response] = (await once(asking, 'response')) as [{ statusCode?: number; on: (event: 'data', heard: (chunk: Buffer) => void) => void }];
  if (response.statusCode !== 200) throw new Error(`A stream was answered with ${response.statusCode ?? 'nothing'}`);
  response.on('data', (chunk) => (events += chunk.toString().split('data: ').length - 1));
  asking.on('error', () => undefined);
  open.push(asking);
}

interface Asked {
  /** How many streams for each of the cookies; absent: all are closed. */
  readonly open?: number;
  readonly url: string;
  readonly cookies: readonly string[];
}

async function answer(asked: Asked): Promise<void> {
  if (asked.open === undefined) {
    for (const clientRequest of open) clientRequest.destroy();
    open = [];
  } else {
    events = 0;
    for (let i = 0; i < asked.open; i += 1) await Promise.all(asked.cookies.map((cookie) => watch(asked.url, cookie)));
  }
  process.send?.({ events });
}

process.on('message', (message) => void answer(message as Asked));
