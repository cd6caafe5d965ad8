import { setTimeout } from 'node:timers/promises';
import { indexesOf, storedPart } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { Apps } from '../db/entities.js';
import { makeMissing, type WantedIndexes } from '../db/missing-indexes.js';
import type { Designs } from './designs.js';

/** In milliseconds, until it is tried again to make indexes while another process makes some. */
const pause = 2000;

/** Makes the indexes that tables lack, while people work: one after another, and none while the app that it is of is changed. */
export class MissingIndexes {
  private readonly making = new Map<string, { readonly stop: AbortController; readonly ended: Promise<void> }>();

  constructor(
    private readonly url: string,
    private readonly database: DataSource,
    private readonly designs: Designs,
    private readonly onFault: (error: unknown) => void,
  ) {}

  /** Those that all apps from before this version of the product lack, or have in an older form. */
  makeAll(): void {
    this.begin('', (closing) => makeMissing(this.url, this.wanted(null), closing));
  }

  /** Those that a change of an app has left. */
  make(app: string): void {
    this.begin(app, async (closing) => {
      while (!closing.aborted && !(await makeMissing(this.url, this.wanted(app), closing)))
        await setTimeout(pause, undefined, { signal: closing }).catch(() => undefined);
    });
  }

  /** Stops it for an app, whose tables are free then. @returns whether there was something to stop */
  async stop(app: string): Promise<boolean> {
    const found = this.making.get(app);
    found?.stop.abort();
    await found?.ended;
    return found !== undefined;
  }

  async close(): Promise<void> {
    await Promise.all([...this.making.keys()].map((app) => this.stop(app)));
  }

  private begin(app: string, work: (closing: AbortSignal) => Promise<unknown>): void {
    const stop = new AbortController();
    const before = this.stop(app);
    const ended = before
      .then(() => work(stop.signal))
      .catch(this.onFault)
      .then(() => {
        if (this.making.get(app)?.stop === stop) this.making.delete(app);
      });
    this.making.set(app, { stop, ended });
  }

  private async *wanted(app: string | null): AsyncGenerator<WantedIndexes> {
    for (const { id, schema, version } of await this.database.getRepository(Apps).find(app === null ? {} : { where: { id: app } }))
      yield { schema, indexes: indexesOf(storedPart(await this.designs.at(id, version)), schema) };
  }
}
