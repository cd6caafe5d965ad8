import { contract, grantOf, type LiveEvent, type OpenApp, type Write } from '@bibliona/core';
import { readConfig, startServer, type RunningServer } from '@bibliona/server';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

/** Open screens hear what others save, in whatever server process, and nothing of what is not theirs. */
let it: TestServer;
let other: RunningServer;
let builder: Caller & { readonly id: number };
let keeper: Caller & { readonly id: number };
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  other = await startServer(readConfig({ DATABASE_URL: it.url, PORT: '0', FILES: it.files, WEB: '', LOG: 'error' }));
  builder = await it.person('Ada');
  keeper = await it.person('Bede');
  app = await makeApp(builder, 'Live', [
    ...honey,
    {
      kind: 'put',
      part: 'role',
      value: { id: 'keeper', name: 'Keeper', description: '', everything: false, menu: [], grants: [grantOf('g_apiaries', 'apiaries', { add: true })] },
    },
  ]);
  await it.server.people.join(app.id, keeper.id, 'member', ['keeper']);
});
afterAll(async () => {
  await other.close();
  await it.close();
});

class Listening {
  readonly events: LiveEvent[] = [];
  isOver = false;
  private readonly stop = new AbortController();

  static async to(caller: Caller, address: string, tab: string): Promise<Listening> {
    const listening = new Listening();
    const response = await fetch(`${address}${caller.path(contract.readLive, { app: app.id }, { tab })}`, {
      headers: { cookie: caller.cookie },
      signal: listening.stop.signal,
    });
    expect([response.status, response.headers.get('content-type')]).toEqual([200, 'text/event-stream; charset=utf-8']);
    void listening.read(response.body as ReadableStream<Uint8Array>);
    return listening;
  }
  private async read(body: ReadableStream<Uint8Array>): Promise<void> {
    let text = '';
    try {
      for await (const chunk of body as unknown as AsyncIterable<Uint8Array>) {
        text += Buffer.from(chunk).toString();
        const lines = text.split('\n\n');
        text = lines.pop() ?? '';
        for (const line of lines) if (line.startsWith('data: ')) this.events.push(JSON.parse(line.slice(6)) as LiveEvent);
      }
    } catch {
      // Closed by the test.
    }
    this.isOver = true;
  }
  /** What comes within the two seconds that are promised. */
  async next(count = 1): Promise<readonly LiveEvent[]> {
    const from = this.events.length;
    const began = Date.now();
    while (this.events.length < from + count && Date.now() - began < 2000) await new Promise((resolve) => setTimeout(resolve, 20));
    return this.events.slice(from);
  }
  close(): void {
    this.stop.abort();
  }
}

const save = (caller: Caller, writes: readonly Write[], tab = ''): Promise<unknown> =>
  caller.send('POST', caller.path(contract.saveRecords, { app: app.id }), { key: saveKey(), writes }, tab === '' ? {} : { 'x-tab': tab });
const hive = (code: string): Write => ({ kind: 'add', table: 'hives', as: 'h', values: { h_code: code } });
const apiary = (name: string): Write => ({ kind: 'add', table: 'apiaries', as: 'a', values: { a_name: name } });

describe('a save', () => {
  test('is told to screens of every process, with the tables that can look otherwise', async () => {
    const [here, there] = [await Listening.to(builder, it.server.address, 'one'), await Listening.to(builder, other.address, 'two')];
    const heard = Promise.all([here.next(), there.next()]);
    await save(keeper, [apiary('Brackmoor')]);
    for (const [event] of await heard) expect(event?.tables).toEqual(expect.arrayContaining(['apiaries', 'hives']));
    here.close();
    there.close();
  });

  test("is not told to the screen that made it, and never to who can't see the table", async () => {
    const [own, their] = [await Listening.to(builder, it.server.address, 'mine'), await Listening.to(keeper, it.server.address, 'theirs')];
    await save(builder, [hive('H-1')], 'mine');
    await save(builder, [apiary('Heron Mere')], 'mine');
    const heard = await their.next();
    expect(heard.map((event) => event.tables)).toEqual([['apiaries']]);
    expect(own.events).toEqual([]);
    own.close();
    their.close();
  });

  test('that is refused is told to nobody', async () => {
    const screen = await Listening.to(builder, it.server.address, 'quiet');
    await save(keeper, [hive('H-9')]);
    await new Promise((resolve) => setTimeout(resolve, 400));
    expect(screen.events).toEqual([]);
    screen.close();
  });
});

test('what is saved while no server can hear of it is told as soon as they hear again', async () => {
  const screens = [await Listening.to(builder, it.server.address, 'deaf'), await Listening.to(builder, other.address, 'deaf too')];
  await it.sql(`SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name = 'bibliona notices' AND datname = current_database()`);
  await save(builder, [apiary('Dunlin Mere')]);
  // Each of them comes back by itself, and tells its screens then: the next test begins when both have.
  for (const screen of screens) {
    await expect.poll(() => screen.events.at(-1)?.tables ?? [], { timeout: 10_000 }).toEqual(expect.arrayContaining(['apiaries', 'hives']));
    screen.close();
  }
});

test('a change of the design tells its version, and a person who leaves the app hears no more', async () => {
  const screen = await Listening.to(keeper, it.server.address, 'leaving');
  const told = screen.next();
  app = await builder.call(contract.changeDesign, {
    params: { app: app.id },
    body: { version: app.version, changes: [{ kind: 'rename_app', name: 'Livelier' }] },
  });
  expect((await told).map((event) => event.version)).toEqual([app.version]);
  await builder.call(contract.removePerson, { params: { app: app.id, person: keeper.id } });
  await save(builder, [apiary('Cold Spring')]);
  const began = Date.now();
  while (!screen.isOver && Date.now() - began < 2000) await new Promise((resolve) => setTimeout(resolve, 20));
  expect(screen.isOver).toBe(true);
});

test('a person cannot hold any number of streams', async () => {
  const open: Listening[] = [];
  for (let i = 0; i < 20; i += 1) open.push(await Listening.to(builder, it.server.address, `t${i}`));
  expect((await builder.send('GET', builder.path(contract.readLive, { app: app.id }))).status).toBe(429);
  for (const listening of open) listening.close();
});
