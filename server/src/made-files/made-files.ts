/** Files that are made in the background: asked for, stopped, fetched, and deleted after a day. */
import { createReadStream } from 'node:fs';
import { randomUUID } from 'node:crypto';
import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { fileRoutes, mostMadeFiles, type AppDesign, type FileRouteName, type MadeFile, type Person, type Region } from '@bibliona/core';
import { LessThan, type DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { MadeFiles as Rows, type MadeFileRow } from '../db/entities.js';
import { putJobs } from '../db/job-queue.js';
import { runOwn } from '../db/own.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import type { JobKind } from '../jobs/jobs.js';
import { nameOfFolder } from '../jobs/shared-folder.js';
import { Threads } from '../jobs/threads.js';
import { beginAttempt, mostAttempts } from '../jobs/work-row.js';
import { digestOf } from '../records/digest.js';
import type { MakeTask } from './worker.js';

/** Files that a process makes at a time; the others wait. */
const atOnce = 2;
/** In milliseconds. */
const keptFor = 86_400_000;
/** What the names of these files begin with in the folder. */
const prefix = 'made-';

interface Who {
  readonly app: OpenedApp;
  readonly person: Person;
}

interface AskedFile {
  readonly route: FileRouteName;
  readonly params: Readonly<Record<string, string>>;
  readonly query: Readonly<Record<string, string>>;
  readonly name: string;
}

/** What a row knows of its file besides its name. */
export interface FileFacts {
  readonly asked: Omit<AskedFile, 'name'>;
  readonly region: Region | null;
  /** What the person could see when they asked: it must be the same when they fetch it. */
  readonly rightsDigest: string;
  readonly attempt?: string;
  readonly progress: number | null;
  readonly type?: string;
  readonly size?: number;
  readonly message?: string;
}
const factsOf = (row: MadeFileRow): FileFacts => row.facts as unknown as FileFacts;

const answerOf = (row: MadeFileRow): MadeFile => {
  const { progress, size = null, message = null } = factsOf(row);
  return { id: row.id, name: row.name, state: row.state as MadeFile['state'], progress, size, message };
};

/** Changes with everything that decides what a person sees of an app. */
const standingOf = ({ roles }: Pick<AppDesign, 'roles'>, person: Person): string => digestOf([person.role, person.roles, person.ties, roles]);

const missing = (): Refusal => new Refusal('not_found', 'This file is no longer there. Make it again.');

export class MadeFiles {
  private readonly threads = new Threads<MakeTask>('made-files/worker');
  private readonly jobName: string;
  readonly job: JobKind;

  constructor(
    private readonly database: DataSource,
    private readonly options: { readonly url: string; readonly folder: string },
  ) {
    this.jobName = `make_file_${nameOfFolder(options.folder)}`;
    this.job = { name: this.jobName, atMost: atOnce, run: (asked, attempt) => this.work((asked as { readonly id: string }).id, attempt) };
  }

  private path(id: string): string {
    return join(this.options.folder, `${prefix}${id}`);
  }

  /** @throws Refusal bad_request when the route can't be asked for that, too_many */
  async make({ app, person }: Who, { name, ...asked }: AskedFile): Promise<MadeFile> {
    const { params, query } = fileRoutes[asked.route];
    if (!params.safeParse({ ...asked.params, app: app.id }).success || !query.safeParse(asked.query).success)
      throw new Refusal('bad_request', "This file can't be made: what it should hold is not as expected.");
    const id = randomUUID();
    const facts: FileFacts = { asked, region: person.region ?? null, rightsDigest: standingOf(app.design, person), progress: 0 };
    const old = await inTransaction(this.database, async (manager, runner) => {
      // One after another, so that nobody asks for more than their share in the same moment.
      await runOwn(runner, 'one file after another', 'SELECT pg_advisory_xact_lock(hashtext($1))', [`made files ${app.id} ${person.id}`]);
      const rows = await manager.find(Rows, { where: { appId: app.id, personId: person.id }, order: { createdAt: 'DESC' } });
      if (rows.filter((row) => row.state === 'making').length >= mostMadeFiles.underWay)
        throw new Refusal('too_many', 'Other files of yours are still being made. Wait until one is ready, or cancel one.');
      const beyond = rows.slice(mostMadeFiles.kept - 1).map((row) => row.id);
      if (beyond.length > 0) await manager.delete(Rows, beyond);
      await manager.insert(Rows, { id, appId: app.id, personId: person.id, name, state: 'making', facts: facts as object });
      await runOwn(runner, 'put make file', putJobs(this.jobName, 25, '$1::json', '$2', '(SELECT) AS asked'), [JSON.stringify({ id }), `made ${id}`]);
      return beyond;
    });
    await Promise.all(old.map((each) => rm(this.path(each), { force: true })));
    return answerOf(await this.row({ app, person }, id));
  }

  async list({ app, person }: Who): Promise<MadeFile[]> {
    const rows = await this.database.getRepository(Rows).find({ where: { appId: app.id, personId: person.id }, order: { createdAt: 'DESC' } });
    return rows.map(answerOf);
  }

  /** @throws Refusal not_found when there is none, or it is not theirs */
  private async row({ app, person }: Who, id: string): Promise<MadeFileRow> {
    const row = await this.database.getRepository(Rows).findOneBy({ id, appId: app.id, personId: person.id });
    if (row === null) throw missing();
    return row;
  }

  /** @throws Refusal not_found, forbidden when the person could see something else when they asked for it */
  async read(who: Who, id: string): Promise<{ readonly name: string; readonly type: string; readonly size: number; readonly content: Readable }> {
    const row = await this.row(who, id);
    const { type, rightsDigest: standing } = factsOf(row);
    if (row.state !== 'done' || type === undefined) throw missing();
    if (standing !== standingOf(who.app.design, who.person))
      throw new Refusal('forbidden', 'What you have access to has changed since this file was made. Make it again.');
    const held = await stat(this.path(id)).catch(() => null);
    if (held === null) throw missing();
    return { name: row.name, type, size: held.size, content: createReadStream(this.path(id)) };
  }

  /** Stops the making of a file too: whoever makes it finds its row gone. @throws Refusal not_found */
  async remove(who: Who, id: string): Promise<void> {
    await this.row(who, id);
    await this.database.getRepository(Rows).delete(id);
    await rm(this.path(id), { force: true });
  }

  private async work(id: string, attempts: number): Promise<void> {
    if (attempts > mostAttempts) return this.fail(id, 'The server stopped several times while it made this file. Try again.');
    const attempt = await beginAttempt(this.database, { rows: Rows, id, during: 'making' });
    // Its person has cancelled it.
    if (attempt === null) return;
    try {
      await this.threads.do({ url: this.options.url, id, attempt, path: this.path(id) });
    } catch (error) {
      // The same file would take as much again.
      if ((error as NodeJS.ErrnoException).code !== 'ERR_WORKER_OUT_OF_MEMORY') throw error;
      await this.fail(id, 'This file is too large to be made. Choose fewer records or columns.');
    }
  }

  private async fail(id: string, message: string): Promise<void> {
    await runOwn(
      this.database,
      'a file failed',
      `UPDATE bibliona.made_file SET state = 'failed', facts = facts || jsonb_build_object('message', $2::text) WHERE id = $1 AND state = 'making'`,
      [id, message],
    );
  }

  /** Deletes what was asked for more than a day ago, and what processes that were killed have left of files. */
  async forgetFiles(now: Date): Promise<void> {
    const limit = new Date(now.getTime() - keptFor);
    await this.database.getRepository(Rows).delete({ createdAt: LessThan(limit) });
    for (const name of await readdir(this.options.folder)) {
      const path = join(this.options.folder, name);
      if (!name.startsWith(prefix)) continue;
      const held = await stat(path).catch(() => null);
      if (held !== null && held.mtime < limit) await rm(path, { force: true });
    }
  }

  /** Stops what is at work: it begins anew when a server is there again. */
  close(): Promise<void> {
    return this.threads.close();
  }
}
