/** A planned import, and the rows of its file. */
import { fileFormats, withoutGuard, type Complaint, type FileSurvey, type ImportPlan, type Person, type RowConverterOptions } from '@bibliona/core';
import type { FileStart } from './formats/index.js';

export interface ImportJob {
  readonly id: string;
  readonly appId: string;
  readonly person: Person;
  readonly path: string;
  readonly size: number;
  readonly survey: FileSurvey;
  readonly version: number;
  readonly plan: ImportPlan;
  /** Only to see what it would do: nothing stays of it. */
  readonly isTrial: boolean;
}

/** An import whose file has been opened. */
export interface OpenedJob extends ImportJob {
  readonly start: FileStart;
  /** Gives a row its computed cells. Null: it has them already, or there are none. */
  readonly compute: ((cells: readonly string[]) => readonly string[]) | null;
}

/** Raised when rows do not fit: the transaction ends without a trace, and the complaints say why. */
export class RowsRefused extends Error {
  constructor(
    readonly complaints: readonly Complaint[],
    readonly count: number,
  ) {
    super('rows refused');
  }
}

/** A problem in so many rows is told of; the others are counted. */
const mostComplaints = 500;

/** What is wrong in a file: the first of it, and how much there is. */
export class Complaints {
  private readonly first: Complaint[] = [];
  count = 0;

  readonly add = (complaint: Complaint): void => {
    this.count += 1;
    if (this.first.length < mostComplaints) this.first.push(complaint);
  };

  /** @throws RowsRefused when there are any */
  refuse(): void {
    if (this.count > 0) throw new RowsRefused(this.first, this.count);
  }
}

/** What a cell says, without the mark in front of what looks like a calculation. */
export function cellText({ plan }: ImportJob, cells: readonly string[], at: number): string {
  const cell = cells[at] ?? '';
  return fileFormats[plan.reading.format].isGuarded ? withoutGuard(cell) : cell;
}

/** The column with the numbers of the records that rows change. */
export const numbersOf = ({ plan, survey }: ImportJob): { readonly name: string; readonly at: number } | null => {
  const at = plan.columns.findIndex((column) => column.kind === 'record');
  return at < 0 ? null : { name: survey.columns[at]?.name ?? '', at };
};

/** How the rows of a file are converted, no matter what becomes of them. */
export const conversionOf = ({ plan }: OpenedJob): Pick<RowConverterOptions, 'width' | 'isGuarded' | 'badCells' | 'keepsEmpty'> => ({
  width: plan.columns.length,
  isGuarded: fileFormats[plan.reading.format].isGuarded,
  badCells: plan.badCells,
  keepsEmpty: plan.emptyCells === 'keep',
});

/** The rows of the file below its heading that hold anything, each with the line on which it begins. */
export async function eachRow(
  job: OpenedJob,
  onProgress: (part: number) => Promise<void>,
  row: (cells: readonly string[], line: number) => Promise<void> | null,
): Promise<void> {
  const { reading } = job.plan;
  let skip = reading.skip + (reading.heading ? reading.headingRows : 0);
  await job.start.rows(async (rows, lines, part) => {
    for (let i = 0; i < rows.length; i += 1) {
      if (skip > 0) {
        skip -= 1;
        continue;
      }
      const cells = rows[i] as string[];
      if (cells.length < 2 || (cells[0] as string).trim() === '') if (cells.every((cell) => cell.trim() === '')) continue;
      const wait = row(job.compute === null ? cells : job.compute(cells), lines[i] as number);
      // Most rows have nothing to wait for, and waiting for nothing takes time too.
      if (wait !== null) await wait;
    }
    await onProgress(part);
  });
}
