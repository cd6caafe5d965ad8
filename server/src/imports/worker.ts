/**
 * The thread an import runs in, so that the server goes on answering. It has its own connections and tells of itself
 * through the import's row alone: any server process can show it, and stop it by changing the state.
 */
import { parentPort } from 'node:worker_threads';
import { fieldKindNames, loadKinds, QuoteNeverClosed, RowTooLong, type ReadingChoice } from '@bibliona/core';
import type { DataSource, EntityManager } from 'typeorm';
import { announce } from '../db/announce.js';
import { connect } from '../db/database.js';
import { Imports } from '../db/entities.js';
import { isDatabaseAway } from '../db/errors.js';
import { Refusal } from '../http/refusal.js';
import { FileUnreadable } from './formats/index.js';
import { RowsRefused, Stopped, type ImportJob } from './job.js';
import { runImport, type ImportResult } from './run-import.js';
import { surveyFile } from './survey-file.js';

/** `attempt` tells this run from an earlier one of the same import whose thread has not noticed yet that it was stopped. */
export type WorkerTask = { readonly url: string; readonly attempt: string } & (
  | { readonly kind: 'survey'; readonly id: string; readonly path: string; readonly reading: ReadingChoice }
  | { readonly kind: 'run'; readonly job: ImportJob }
);

const beatEvery = 400;

/** Writes how far it is, and learns from the same statement whether to go on. */
function heartbeat(database: DataSource, id: string, state: 'reading' | 'running', attempt: string) {
  let [part, isStopped] = [0, false];
  const beat = async (): Promise<void> => {
    const result = await database
      .createQueryBuilder()
      .update(Imports)
      .set({ facts: () => `facts || jsonb_build_object('progress', ${part.toFixed(4)}::float8)` })
      .where("id = :id AND state = :state AND facts->>'attempt' = :attempt", { id, state, attempt })
      .execute();
    if (result.affected === 0) isStopped = true;
  };
  const timer = setInterval(() => void beat().catch(() => undefined), beatEvery);
  return {
    progress: async (now: number): Promise<void> => {
      part = now;
      // Reading a file in a tight loop would leave no room for the timer.
      await new Promise((resolve) => setImmediate(resolve));
      if (isStopped) throw new Stopped();
    },
    end: () => clearInterval(timer),
  };
}

/** From one state to another, unless this run was stopped or another has begun. */
async function settle(manager: EntityManager, task: WorkerTask, state: string, facts: object): Promise<boolean> {
  const [id, during] = [idOf(task), duringOf(task)];
  const result = await manager
    .createQueryBuilder()
    .update(Imports)
    .set({ state, facts: () => 'facts || :facts::jsonb' })
    .where("id = :id AND state = :during AND facts->>'attempt' = :attempt", { id, during, attempt: task.attempt, facts: JSON.stringify(facts) })
    .execute();
  return result.affected === 1;
}

const idOf = (task: WorkerTask): string => (task.kind === 'survey' ? task.id : task.job.id);
const duringOf = (task: WorkerTask): 'reading' | 'running' => (task.kind === 'survey' ? 'reading' : 'running');

/** Raised to leave nothing of an import but what it would have done. */
class OnlyTried extends Error {
  constructor(readonly result: ImportResult) {
    super('only tried');
  }
}

function tried({ saves: _, table: __, others: ___, began: ____, ...preview }: ImportResult): Outcome {
  return { state: 'read', facts: { preview, progress: 1, complaints: [], complaintCount: 0, message: null } };
}

interface Outcome {
  readonly state: string;
  readonly facts: Record<string, unknown>;
}

function failure(error: unknown): Outcome {
  if (error instanceof RowsRefused) return { state: 'refused', facts: { complaints: error.complaints, complaintCount: error.count, message: null } };
  if (error instanceof Stopped) return { state: 'cancelled', facts: {} };
  if (error instanceof RowTooLong) return { state: 'failed', facts: { message: `${error.message}.` } };
  if (error instanceof QuoteNeverClosed || error instanceof FileUnreadable || error instanceof Refusal)
    return {
      state: 'failed',
      facts: { message: `${error.message}${error instanceof QuoteNeverClosed ? '. Close it in the file, or choose another delimiter.' : ''}` },
    };
  return {
    state: 'failed',
    facts: {
      message: 'Something went wrong on the server. Nothing was added.',
      fault: error instanceof Error ? (error.stack ?? error.message) : String(error),
    },
  };
}

async function work(task: WorkerTask): Promise<void> {
  await loadKinds(fieldKindNames);
  const database = await connect({ url: task.url, connections: 3, statementTimeout: 0 });
  const beat = heartbeat(database, idOf(task), duringOf(task), task.attempt);
  try {
    if (task.kind === 'survey') {
      const survey = await surveyFile(task.path, task.reading, beat.progress);
      await settle(database.manager, task, 'read', { survey, progress: 1, message: null });
    } else {
      await runImport(database, task.job, beat.progress, async (runner, result) => {
        if (task.job.isTrial) throw new OnlyTried(result);
        // Within the transaction: rows and "done" come together, and a stop that came first wins.
        const isDone = await settle(runner.manager, task, 'done', { ...result, progress: 1, complaints: [], complaintCount: 0, message: null });
        if (!isDone) throw new Stopped();
      });
      await announce(database);
    }
  } catch (error) {
    // Nothing could be told of it either: it is begun anew.
    if (isDatabaseAway(error)) throw error;
    const { state, facts } = error instanceof OnlyTried ? tried(error.result) : failure(error);
    await settle(database.manager, task, state, facts);
  } finally {
    beat.end();
    // What is left is only to close the connections: the next import need not wait for that.
    say('settled');
    await database.destroy();
  }
}

/** What a thread says of itself: that the outcome is in the database; that it can take another task. */
export type WorkerWord = 'settled' | 'idle';
const say = (word: WorkerWord): void => parentPort?.postMessage(word);

parentPort?.on('message', (task: WorkerTask) => void work(task).then(() => say('idle')));
