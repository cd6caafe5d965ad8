/** Rows of a file that become new records, as PostgreSQL's COPY takes them in. */
import { once } from 'node:events';
import { rowConverter, type CellColumn, type Complaint } from '@bibliona/core';
import type { PoolClient } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import type { QueryRunner } from 'typeorm';
import { Complaints, conversionOf, eachRow, type OpenedJob } from './job.js';
import type { RowMatching } from './matching.js';

export const mostEmptied = 100;
const flushAt = 256 * 1024;

export interface CopiedRows {
  /** Of each row that was added, the line of the file on which it began. */
  readonly lines: readonly number[];
  /** The records that other rows are about, by their lines. */
  readonly matched: ReadonlyMap<number, number>;
  /** Rows that match no record and add none. */
  readonly leftOut: number;
  readonly emptied: readonly Complaint[];
  readonly emptiedCount: number;
}

/**
 * Goes through the file and adds the rows that are about no record. What the others are about is told: COPY holds the
 * connection, so they are changed when it is done.
 * @throws RowsRefused, Stopped, or what PostgreSQL says
 */
export async function copyRows(
  runner: QueryRunner,
  job: OpenedJob,
  columns: readonly CellColumn[],
  started: readonly string[],
  taken: ReadonlyMap<string, ReadonlySet<string>>,
  matching: RowMatching,
  copy: string,
  onProgress: (part: number) => Promise<void>,
): Promise<CopiedRows> {
  const complaints = new Complaints();
  const emptied: Complaint[] = [];
  let emptiedCount = 0;
  const added: number[] = [];
  const matched = new Map<number, number>();
  let leftOut = 0;
  const convert = rowConverter({
    ...conversionOf(job),
    columns,
    find: matching.find,
    canAdd: matching.canAdd,
    tail: [...started, job.person.id, job.person.id].join('\t'),
    taken,
    complain: complaints.add,
    emptied: (complaint) => {
      emptiedCount += 1;
      if (emptied.length < mostEmptied) emptied.push(complaint);
    },
  });
  const client = (await runner.connect()) as PoolClient;
  const stream = client.query(copyFrom(copy));
  let broken: unknown = null;
  // Code that waits for the database to take more is woken when there is nothing more to wait for.
  let wake: () => void = () => undefined;
  stream.on('error', (error) => {
    broken = error;
    wake();
  });
  stream.on('drain', () => wake());
  let out = '';
  const flush = async (): Promise<void> => {
    if (out === '') return;
    const bytes = Buffer.from(out);
    out = '';
    if (broken !== null) throw broken as Error;
    const hasRoom = new Promise<void>((resolve) => (wake = resolve));
    if (!stream.write(bytes)) await hasRoom;
    if (broken !== null) throw broken as Error;
  };
  try {
    await eachRow(job, onProgress, (cells, at) => {
      const line = convert(cells, at);
      if (typeof line === 'object') {
        if (line?.kind === 'numbered') matched.set(at, line.record);
        else if (line?.kind === 'left_out') leftOut += 1;
      } else if (complaints.count === 0) {
        added.push(at);
        out += line;
        if (out.length > flushAt) return flush();
      }
      return null;
    });
    await flush();
    complaints.refuse();
    const finished = once(stream, 'finish');
    stream.end();
    await finished;
    return { lines: added, matched, leftOut, emptied, emptiedCount };
  } catch (error) {
    // Ends the COPY without its rows; the connection is then free for the rollback.
    if (broken === null) {
      const closed = once(stream, 'error').catch(() => undefined);
      stream.destroy(new Error('The import was stopped'));
      await Promise.race([closed, new Promise((resolve) => setTimeout(resolve, 2000))]);
    }
    throw error;
  }
}
