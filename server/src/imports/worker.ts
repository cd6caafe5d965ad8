/**
 * The thread an import runs in, so that the server goes on answering. It has its own connections and tells of itself
 * through the import's row alone: any server process can show it, and stop it by changing the state.
 */
import { fieldKindNames, loadKinds, QuoteNeverClosed, RowTooLong, type ReadingChoice } from '@bibliona/core';
import { announce } from '../db/announce.js';
import { connect } from '../db/database.js';
import { Imports } from '../db/entities.js';
import { isDatabaseAway } from '../db/errors.js';
import { Refusal } from '../http/refusal.js';
import { FileUnreadable } from './formats/index.js';
import { takeTasks } from '../jobs/threads.js';
import { Attempt, Stopped } from '../jobs/work-row.js';
import { RowsRefused, type ImportJob } from './job.js';
import { runImport, type ImportResult } from './run-import.js';
import { surveyFile } from './survey-file.js';

/** `attempt` tells this run from an earlier one of the same import whose thread has not noticed yet that it was stopped. */
export type WorkerTask = { readonly url: string; readonly attempt: string } & (
  | { readonly kind: 'survey'; readonly id: string; readonly path: string; readonly reading: ReadingChoice }
  | { readonly kind: 'run'; readonly job: ImportJob }
);

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

async function work(task: WorkerTask, settled: () => void): Promise<void> {
  await loadKinds(fieldKindNames);
  const database = await connect({ url: task.url, connections: 3, statementTimeout: 0 });
  const attempt = new Attempt(database, { rows: Imports, id: idOf(task), during: duringOf(task), attempt: task.attempt });
  try {
    if (task.kind === 'survey') {
      const survey = await surveyFile(task.path, task.reading, attempt.progress);
      await attempt.settle('read', { survey, progress: 1, message: null });
    } else {
      await runImport(database, task.job, attempt.progress, async (runner, result) => {
        if (task.job.isTrial) throw new OnlyTried(result);
        // Within the transaction: rows and "done" come together, and a stop that came first wins.
        const facts = { ...result, progress: 1, complaints: [], complaintCount: 0, message: null };
        if (!(await attempt.settle('done', facts, runner.manager))) throw new Stopped();
      });
      await announce(database);
    }
  } catch (error) {
    // Nothing could be told of it either: it is begun anew.
    if (isDatabaseAway(error)) throw error;
    const { state, facts } = error instanceof OnlyTried ? tried(error.result) : failure(error);
    await attempt.settle(state, facts);
  } finally {
    attempt.end();
    // What is left is only to close the connections: the next import need not wait for that.
    settled();
    await database.destroy();
  }
}

takeTasks(work);
