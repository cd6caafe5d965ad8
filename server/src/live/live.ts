/**
 * Tells open screens what others have saved. A save says which tables it touched; every server process hears of it, and tells
 * each screen of the tables that its person can know of.
 */
import { designFor, type LiveEvent, tablesShowing, type AppDesign, type Person } from '@bibliona/core';
import type { Context } from 'koa';
import { PassThrough } from 'node:stream';
import type { DataSource } from 'typeorm';
import { z } from 'zod';
import { runOwn } from '../db/own.js';
import { Refusal } from '../http/refusal.js';

export const liveChannel = 'bibliona_live';
// Saves within this time, in milliseconds, are told together.
const gathering = 100;
// A proxy can close a connection on which nothing comes, in milliseconds.
const beat = 25_000;
const mostPerPerson = 20;
// PostgreSQL takes payloads of less than 8,000 bytes.
const longestPayload = 7000;

/** `tables` null: all of them might have been touched. */
const Told = z.object({
  app: z.string(),
  tables: z.array(z.string()).nullable(),
  /** The screen that did it, and which of the tables it knows of itself. */
  tab: z.string(),
  own: z.array(z.string()),
});
type Told = z.infer<typeof Told>;

interface Screen {
  readonly app: string;
  readonly personId: number;
  readonly tab: string;
  readonly token: string;
  readonly body: PassThrough;
  /** The version of the design that it was told of last. */
  version: number;
}

/** Who looks at an app with that session now; null: nobody any more. */
export type WhoLooks = (token: string, app: string) => Promise<{ readonly person: Person; readonly design: AppDesign; readonly version: number } | null>;

/** Which open screen a change comes from: it need not be told of it. */
export const tabHeader = 'x-tab';

export class Live {
  private readonly screens = new Set<Screen>();
  private readonly waiting = new Map<string, Told>();
  private readonly beating: NodeJS.Timeout;

  constructor(
    private readonly database: DataSource,
    private readonly whoLooks: WhoLooks,
    private readonly onFault: (error: unknown) => void,
  ) {
    this.beating = setInterval(() => {
      for (const { body } of this.screens) body.write(':\n\n');
    }, beat).unref();
  }

  /** Says that tables of an app have changed; null: any of them might have. `by`: the screen that did it and what it knows itself. */
  touched(app: string, tables: readonly string[] | null, by: { readonly tab: string; readonly own: readonly string[] } = { tab: '', own: [] }): void {
    const { tab } = by;
    const key = JSON.stringify([app, tab]);
    const known = this.waiting.get(key);
    if (known === undefined) setTimeout(() => void this.tell(key).catch(this.onFault), gathering).unref();
    const all = known === undefined ? tables : known.tables === null || tables === null ? null : [...new Set([...known.tables, ...tables])];
    this.waiting.set(key, { app, tables: all === null ? null : [...all], tab, own: [...new Set([...(known?.own ?? []), ...by.own])] });
  }

  private async tell(key: string): Promise<void> {
    const told = this.waiting.get(key);
    this.waiting.delete(key);
    if (told === undefined) return;
    const text = JSON.stringify(told);
    const payload = text.length > longestPayload ? JSON.stringify({ ...told, tables: null }) : text;
    await runOwn(this.database, 'live', 'SELECT pg_notify($1, $2)', [liveChannel, payload]);
  }

  /** What a process has told of a save. Without a payload some might have been missed: then anything can have changed. */
  hear(payload: string | undefined): void {
    if (payload === undefined) {
      for (const screen of this.screens) void this.show(screen, { app: screen.app, tables: null, tab: '', own: [] }).catch(this.onFault);
      return;
    }
    const told = Told.parse(JSON.parse(payload));
    for (const screen of this.screens) if (screen.app === told.app) void this.show(screen, told).catch(this.onFault);
  }

  /** Asked anew each time: a role might have been taken away while the screen was open. */
  private async show(screen: Screen, told: Told): Promise<void> {
    const who = await this.whoLooks(screen.token, screen.app);
    if (who === null) return void screen.body.end();
    const theirs = designFor(who.design, who.person);
    const all = told.tables ?? theirs.tables.map((table) => table.id);
    const isOwn = told.tab !== '' && told.tab === screen.tab;
    const news = !isOwn ? all : told.tables === null ? [] : all.filter((id) => !told.own.includes(id));
    const tables = tablesShowing(theirs, news);
    if (tables.length === 0 && who.version === screen.version) return;
    screen.version = who.version;
    const event: LiveEvent = { tables: [...tables], version: who.version };
    screen.body.write(`data: ${JSON.stringify(event)}\n\n`);
  }

  /** The stream of events for a screen. @throws Refusal too_many */
  open(context: Context, app: string, who: { readonly person: Person; readonly version: number; readonly token: string }, tab: string): PassThrough {
    const { person, version, token } = who;
    if ([...this.screens].filter((each) => each.personId === person.id).length >= mostPerPerson)
      throw new Refusal('too_many', 'Too many screens are open. Close some of them.');
    const screen: Screen = { app, personId: person.id, tab, token, version, body: new PassThrough() };
    this.screens.add(screen);
    context.res.once('close', () => this.screens.delete(screen));
    context.type = 'text/event-stream';
    // Compressed, an event would wait for others to fill a block.
    (context as Context & { compress?: boolean }).compress = false;
    context.set('X-Accel-Buffering', 'no');
    screen.body.write('retry: 2000\n\n');
    return screen.body;
  }

  /** Ends the streams: screens come back to another process. */
  end(): void {
    for (const { body } of this.screens) body.end();
  }

  close(): void {
    clearInterval(this.beating);
    this.end();
  }
}
