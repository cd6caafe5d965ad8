/** The thread in which files are made, so that the server goes on answering. */
import { createWriteStream } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { fieldKindNames, fileRoutes, loadKinds } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { Designs } from '../apps/designs.js';
import { connect } from '../db/database.js';
import { Apps, MadeFiles } from '../db/entities.js';
import { isDatabaseAway } from '../db/errors.js';
import type { Watch } from '../export/file.js';
import { Refusal } from '../http/refusal.js';
import { takeTasks } from '../jobs/threads.js';
import { Attempt, Stopped } from '../jobs/work-row.js';
import { Members } from '../people/members.js';
import type { FileFacts } from './made-files.js';
import { makerOf } from './makers.js';

export interface MakeTask {
  readonly url: string;
  readonly id: string;
  /** Tells this attempt from an earlier one whose thread has not noticed yet that it was stopped. */
  readonly attempt: string;
  /** Where the file belongs when it is whole. */
  readonly path: string;
}

/** The longest that one statement can take, in milliseconds: others are not kept waiting by it. */
const statementTimeout = 300_000;

async function work(task: MakeTask, settled: () => void): Promise<void> {
  await loadKinds(fieldKindNames);
  const database = await connect({ url: task.url, connections: 2, statementTimeout });
  const attempt = new Attempt(database, { rows: MadeFiles, id: task.id, during: 'making', attempt: task.attempt });
  const draft = `${task.path}-${task.attempt}`;
  try {
    const type = await makeFile(database, task.id, draft, attempt);
    await rename(draft, task.path);
    const { size } = await stat(task.path);
    if (!(await attempt.settle('done', { type, size, progress: 1 }))) throw new Stopped();
  } catch (error) {
    await rm(draft, { force: true });
    // Nothing could be told of it either: it is begun anew.
    if (isDatabaseAway(error)) throw error;
    if (error instanceof Stopped) await rm(task.path, { force: true });
    else await attempt.settle('failed', failure(error));
  } finally {
    attempt.end();
    settled();
    await database.destroy();
  }
}

/** Makes the file as the person who asked for it, as far as they can see it now. @returns its type. @throws Refusal, Stopped */
async function makeFile(database: DataSource, id: string, path: string, attempt: Attempt): Promise<string> {
  const row = await database.getRepository(MadeFiles).findOneBy({ id });
  if (row === null) throw new Stopped();
  const { asked, region } = row.facts as unknown as FileFacts;
  const { version, schema } = await database.getRepository(Apps).findOneByOrFail({ id: row.appId });
  const app = { id: row.appId, schema, version, design: await new Designs(database).at(row.appId, version) };
  const person = { ...(await new Members(database, () => Promise.resolve()).person(app, Number(row.personId))), region };
  const counted = { rows: 0, read: 0 };
  const watch: Watch = { rows: (count) => (counted.rows = count), read: (count) => (counted.read = count) };
  const { params, query } = fileRoutes[asked.route];
  const parsed = { params: params.parse({ ...asked.params, app: app.id }), query: query.parse(asked.query) };
  await attempt.progress(null);
  const file = await makerOf(asked.route)(database, { app, person }, parsed, watch);
  const watched = new Transform({
    transform(chunk: Buffer, _, done) {
      // More may be there by now than was counted.
      const part = counted.rows === 0 ? null : Math.min(1, counted.read / counted.rows);
      attempt.progress(part).then(() => done(null, chunk), done);
    },
  });
  await pipeline(file.content, watched, createWriteStream(path, { mode: 0o600 }));
  return file.type;
}

const failure = (error: unknown): object =>
  error instanceof Refusal
    ? { message: error.message }
    : {
        message: 'Something went wrong on the server. Try again. If it happens again, tell the administrator of this server.',
        fault: error instanceof Error ? (error.stack ?? error.message) : String(error),
      };

takeTasks(work);
