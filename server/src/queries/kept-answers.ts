/** Answers that are asked for again and again, as the tiles of a dashboard are, kept for as long as nothing is written. */
import type { Statement } from '@bibliona/core';
import { LRUCache } from 'lru-cache';
import type { DataSource } from 'typeorm';
import { changesSince } from '../db/changes.js';
import { run } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';

interface Kept {
  readonly rows: readonly object[];
  /** The moment from which on a write makes it stale. */
  readonly moment: string;
}

// In characters of the answers and of what asked for them.
const mostKept = 32_000_000;

/**
 * An answer is known by its statement and the values in it. What a person can see is woven into both, as is the time where
 * it matters, so nobody is given what was compiled for other grants.
 */
export class KeptAnswers {
  private readonly kept = new LRUCache<string, Kept>({ maxSize: mostKept });

  constructor(private readonly database: DataSource) {}

  /** The rows of a statement on the tables of an app. */
  async rows<Row extends object>(app: OpenedApp, statement: Statement): Promise<readonly Row[]> {
    // People change their names without a write to the app.
    if (statement.text.includes('bibliona.person')) return run<Row>(this.database, statement);
    const key = JSON.stringify([app.schema, app.version, statement.text, statement.params]);
    const known = this.kept.get(key);
    // The moment is taken before the answer: what is written in between makes it stale too early, never too late.
    const { moment, isChanged } = await changesSince(this.database, app.schema, known?.moment ?? null);
    if (known !== undefined && !isChanged) return known.rows as readonly Row[];
    const rows = await run<Row>(this.database, statement);
    this.kept.set(key, { rows, moment }, { size: key.length + JSON.stringify(rows).length });
    return rows;
  }
}
