/**
 * Changes of tables that are under way. What one is at is told by the name that its connection goes by: every process of the
 * server can read it, and all else that it writes is only seen once its transaction has ended.
 */
import { literal, type Statement } from '@bibliona/core';
import { createHash, randomBytes } from 'node:crypto';
import type { DataSource, QueryRunner } from 'typeorm';
import { changingTables, longestStep } from './database.js';
import { run, type Runner } from './run.js';
import { runOwn } from './own.js';

/** Who changes what. `tab`: the open screen, so that one screen doesn't stop what another of the same person does. */
export interface Changer {
  readonly app: string;
  readonly person: number;
  readonly tab: string;
}

// Names of connections are at most 63 bytes of ASCII.
const hash = (...texts: readonly (string | number)[]): string => createHash('sha1').update(texts.join(' ')).digest('hex').slice(0, 12);
/** Tells one change of a screen from the next, through all tries to have its tables. */
export const newAttempt = (): string => randomBytes(3).toString('hex');
const markOfApp = (app: string): string => `bibliona change ${hash(app)} `;
const markOf = ({ app, person, tab }: Changer): string => `${markOfApp(app)}${hash(person, tab)} `;

/** `preparing`: new values are made ready beside what others do. `waiting`: for tables that others work with. */
const doings = ['changing', 'preparing', 'waiting'] as const;
type Doing = (typeof doings)[number];

/** Runs the statements of a change, and tells how far it is. */
export class Progress {
  private step = 0;
  private of = 0;
  private doing: Doing = 'changing';
  private began = Date.now();

  /** @param by null: nobody is told */
  constructor(
    private readonly runner: QueryRunner,
    private readonly by: Changer | null,
    private readonly attempt = newAttempt(),
  ) {}

  /** Tells how far it is, before a statement that might have to wait. */
  async begin(): Promise<void> {
    if (this.by !== null) await this.runner.query(this.named());
  }

  /** Tells that it waits for tables that others work with. */
  async wait(): Promise<void> {
    this.doing = 'waiting';
    await this.begin();
  }

  /** So many more statements are to come. */
  expect(more: number): void {
    this.of += more;
  }

  /** Runs the text of migration steps, which core wrote from a design. */
  async run(texts: readonly string[]): Promise<void> {
    for (const text of texts) {
      this.next('changing');
      await this.runner.query(this.by === null ? text : `${this.named()}; ${text}`);
    }
  }

  /** The same on other connections, each by itself, while the transaction of the change does nothing. It can be stopped in the same way. */
  async runBeside(source: DataSource, statement: Statement): Promise<void> {
    this.next('preparing');
    await this.begin();
    await changingTables(source, async (_, beside) => {
      // Nobody waits until it is on disk: what is lost with the power is made again, and the change itself is waited for.
      await beside.query(`SET LOCAL synchronous_commit = off; ${this.named()}`);
      await run(beside, statement);
    });
  }

  private next(doing: Doing): void {
    this.step += 1;
    this.doing = doing;
    this.of = Math.max(this.of, this.step);
    this.began = Date.now();
  }

  /** Whether its last statement has taken as long as one can. */
  get isTooLong(): boolean {
    return Date.now() - this.began >= longestStep;
  }

  private named(): string {
    return this.by === null
      ? ''
      : `SET LOCAL application_name = ${literal(`${markOf(this.by)}${this.attempt} ${this.step}/${this.of}/${doings.indexOf(this.doing)}`)}`;
  }
}

export interface UnderWay {
  readonly step: number;
  readonly of: number;
  readonly seconds: number;
  readonly isMine: boolean;
  readonly doing: Doing;
}

const underWay = `
  SELECT application_name AS name, extract(epoch FROM clock_timestamp() - xact_start)::int AS seconds FROM pg_stat_activity
  WHERE datname = current_database() AND starts_with(application_name, $1) AND xact_start IS NOT NULL ORDER BY xact_start`;
const cancel = `
  SELECT application_name AS name, pg_cancel_backend(pid) FROM pg_stat_activity
  WHERE datname = current_database() AND usename = current_user AND starts_with(application_name, $1)`;

/** How far a change of an app is, or the one that it waits for; null: none is under way. */
export async function changeUnderWay(runner: Runner, by: Changer): Promise<UnderWay | null> {
  const rows = await runOwn<{ name: string; seconds: number }>(runner, 'changes under way', underWay, [markOfApp(by.app)]);
  const read = rows.map(({ name, seconds }) => {
    const [step = 0, of = 0, doing = 0] = (name.split(' ').at(-1) ?? '').split('/').map(Number);
    return { step, of, seconds, isMine: name.startsWith(markOf(by)), doing: doings[doing] ?? 'changing' };
  });
  return read.find(({ isMine, step }) => isMine && step > 0) ?? read.find(({ step }) => step > 0) ?? read[0] ?? null;
}

// Between two statements, or two tries to have the tables, there is nothing to stop for a moment: for less than so many looks.
const [quietLooks, mostLooks, pauseBetween] = [6, 60, 100];

/** Stops the change of this screen, if it has not ended by itself; none of it is made. */
export async function cancelChange(runner: Runner, by: Changer): Promise<void> {
  let mark = markOf(by);
  for (let [looks, quiet] = [0, 0]; looks < mostLooks && quiet < quietLooks; looks += 1) {
    const [stopped] = await runOwn<{ name: string }>(runner, 'cancel change', cancel, [mark]);
    quiet = stopped === undefined ? quiet + 1 : 0;
    // From now on this one alone: the screen may ask for another at once.
    if (stopped !== undefined) mark = stopped.name.slice(0, stopped.name.lastIndexOf(' ') + 1);
    await new Promise((resolve) => setTimeout(resolve, pauseBetween));
  }
}
