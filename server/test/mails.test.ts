import type { AddressInfo } from 'node:net';
import { contract, type OpenApp } from '@bibliona/core';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest';
import { gone, serverProcesses, type ServerProcess, type ServerProcesses } from './processes.js';
import { Caller, field, makeApp, saveKey, table } from './support.js';

interface Taken {
  readonly id: string | undefined;
  readonly subject: string | undefined;
}

/** A relay of which the test decides when it takes a mail. */
class Relay {
  /** Mails that it has answered for: those are its own to deliver. */
  readonly taken: Taken[] = [];
  /** Called when the whole text is there and the answer is due. Without it the relay answers at once. */
  beforeAnswer: (() => Promise<'answer' | 'silence' | number>) | null = null;
  private readonly server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onData: (stream, _, done) => {
      void simpleParser(stream).then(async (mail) => {
        const how = (await this.beforeAnswer?.()) ?? 'answer';
        if (how === 'silence') return;
        if (typeof how === 'number') return done(Object.assign(new Error('not this one'), { responseCode: how }));
        this.taken.push({ id: mail.messageId, subject: mail.subject });
        done();
      });
    },
  });

  async open(): Promise<string> {
    this.server.on('error', () => undefined);
    const port = await new Promise<number>((resolve) => {
      const net = this.server.listen(0, '127.0.0.1', () => resolve((net.address() as AddressInfo).port));
    });
    return `smtp://127.0.0.1:${port}`;
  }
  close = (): Promise<void> => new Promise((resolve) => this.server.close(() => resolve()));
}

let processes: ServerProcesses;
let smtp: string;
let app: OpenApp;
const relay = new Relay();
const running: ServerProcess[] = [];
const start = async (): Promise<{ server: ServerProcess; ada: Caller }> => {
  const server = await processes.start({ SMTP_URL: smtp });
  running.push(server);
  const ada = new Caller(server.address);
  if (server.setUpKey === null) await ada.call(contract.signIn, { body: { email: 'ada@quillmoor.example', password: 'a long enough password' } });
  else await ada.call(contract.setUp, { body: { key: server.setUpKey, name: 'Ada Roke', email: 'ada@quillmoor.example', password: 'a long enough password' } });
  return { server, ada };
};
const kill = async ({ child }: ServerProcess): Promise<void> => {
  const ended = gone(child);
  child.kill('SIGKILL');
  await ended;
};
const report = (ada: Caller, place: string): Promise<unknown> =>
  ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key: saveKey(), writes: [{ kind: 'add', table: 'swarms', as: 's', values: { s_place: place } }] },
  });
const until = async (isSo: () => Promise<boolean> | boolean): Promise<void> => {
  for (let i = 0; i < 400 && !(await isSo()); i += 1) await new Promise((resolve) => setTimeout(resolve, 50));
};
const mailOf = async (ada: Caller, subject: string) => {
  const { mails } = await ada.call(contract.readMails, { params: { app: app.id } });
  return mails.find((mail) => mail.subject === subject);
};

beforeAll(async () => {
  processes = await serverProcesses();
  smtp = await relay.open();
  const { server, ada } = await start();
  app = await makeApp(ada, 'Swarms', [
    table('swarms', 'Swarms', [field('text', 's_place', 'Place')]),
    {
      kind: 'put',
      part: 'automation',
      value: {
        id: 'au_swarm',
        name: 'Tells of swarms',
        description: '',
        section: '',
        isOn: true,
        table: 'swarms',
        on: 'added',
        fields: [],
        moves: [],
        condition: '',
        steps: [{ kind: 'mail', id: 'st_1', to: { kind: 'address', expression: '"keeper@quillmoor.example"' }, subject: '{Place}', body: 'A swarm.' }],
      },
    },
  ]);
  await kill(server);
});
afterEach(async () => {
  relay.beforeAnswer = null;
  for (const server of running.splice(0)) if (server.child.exitCode === null && server.child.signalCode === null) await kill(server);
});
afterAll(async () => {
  await processes.close();
  await relay.close();
});

test('kill -9 between the change of data and its mail: after the restart the mail is taken once', async () => {
  // The save is answered while the relay still keeps the text to itself.
  let isThere = false;
  relay.beforeAnswer = () => {
    isThere = true;
    return Promise.resolve('silence');
  };
  const { server, ada } = await start();
  await report(ada, 'by the mill');
  await until(() => isThere);
  await kill(server);
  expect(relay.taken).toEqual([]);

  relay.beforeAnswer = null;
  const again = await start();
  await until(async () => (await mailOf(again.ada, 'by the mill'))?.state === 'sent');
  expect(relay.taken.map((mail) => mail.subject)).toEqual(['by the mill']);
  const mail = await mailOf(again.ada, 'by the mill');
  // Nobody can tell whether the first attempt was taken, and the log says so.
  expect(mail).toMatchObject({ state: 'sent', attempts: 2, doubtful: true });
  expect(relay.taken[0]?.id).toBe(`<${mail?.id}@bibliona>`);
  const { records } = await again.ada.call(contract.readPage, { params: { app: app.id, table: 'swarms' }, query: { limit: 10 } });
  expect(records).toHaveLength(1);
  const { runs } = await again.ada.call(contract.readRuns, { params: { app: app.id, automation: 'au_swarm' } });
  expect(runs[0]?.mails).toMatchObject([{ to: 'keeper@quillmoor.example', state: 'sent' }]);
});

test('kill -9 after the relay has taken it and before that is on record: it comes again under the same name', async () => {
  const { server, ada } = await start();
  let isStopped = false;
  relay.beforeAnswer = () => {
    // The process stands still, takes in no answer, and is killed then.
    server.child.kill('SIGSTOP');
    isStopped = true;
    return Promise.resolve('answer');
  };
  await report(ada, 'on the church');
  await until(() => isStopped && relay.taken.some((mail) => mail.subject === 'on the church'));
  await kill(server);

  relay.beforeAnswer = null;
  const again = await start();
  await until(async () => (await mailOf(again.ada, 'on the church'))?.state === 'sent');
  const taken = relay.taken.filter((mail) => mail.subject === 'on the church');
  expect(taken).toHaveLength(2);
  expect(new Set(taken.map((mail) => mail.id)).size).toBe(1);
  expect(await mailOf(again.ada, 'on the church')).toMatchObject({ attempts: 2, doubtful: true });
});

test('what the relay refuses for good is not tried again by itself, what it puts off is; and both can be sent again by hand', async () => {
  const { server, ada } = await start();
  for (const [place, code, state] of [
    ['refused', 550, 'failed'],
    ['put off', 451, 'waiting'],
  ] as const) {
    relay.beforeAnswer = () => Promise.resolve(code);
    await report(ada, place);
    await until(async () => (await mailOf(ada, place))?.error !== null);
    const mail = await mailOf(ada, place);
    expect(mail).toMatchObject({ state, attempts: 1, doubtful: false, sentAt: null });
    expect(mail?.error).toContain('not this one');
    relay.beforeAnswer = null;
    await ada.call(contract.sendMailAgain, { params: { app: app.id, mail: mail?.id ?? '' } });
    await until(async () => (await mailOf(ada, place))?.state === 'sent');
    expect(relay.taken.filter((taken) => taken.subject === place)).toHaveLength(1);
    expect((await ada.refused(contract.sendMailAgain, { params: { app: app.id, mail: mail?.id ?? '' } })).status).toBe(404);
  }
  await kill(server);
});

test('two servers on one database send each mail once', async () => {
  const [each, two] = [await start(), await start()];
  const places = Array.from({ length: 20 }, (_, i) => `in tree ${i}`);
  await Promise.all(places.map((place, i) => report(i % 2 === 0 ? each.ada : two.ada, place)));
  await until(async () => (await each.ada.call(contract.readMails, { params: { app: app.id } })).mails.every((mail) => mail.state === 'sent'));
  expect(
    relay.taken
      .map((mail) => mail.subject)
      .filter((subject) => subject?.startsWith('in tree'))
      .sort(),
  ).toEqual(places.sort());
  // The one that had the lead goes, and the other takes it over.
  await kill(each.server);
  await report(two.ada, 'in the hedge');
  await until(async () => (await mailOf(two.ada, 'in the hedge'))?.state === 'sent');
  await kill(two.server);
  expect(relay.taken.filter((mail) => mail.subject === 'in the hedge')).toHaveLength(1);
});
