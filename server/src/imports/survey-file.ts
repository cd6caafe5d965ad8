import {
  columnNames,
  ColumnTally,
  fileFormats,
  RepeatFinder,
  sniffHeading,
  sniffTitles,
  standardLocale,
  type FileSurvey,
  type ReadingChoice,
} from '@bibliona/core';
import { attempt, FileUnreadable, startOf, type FileStart } from './formats/index.js';

const sampleRows = 100;
/** As many columns as an import takes. */
const mostColumns = 1000;

/** Reads the whole file and says what is in it: every cell counts, not only the first. */
export async function surveyFile(path: string, wanted: ReadingChoice, onProgress: (part: number) => Promise<void>): Promise<FileSurvey> {
  return attempt(await startOf(path, wanted), (start) => survey(start, wanted, onProgress));
}

/** What is above the records: titles, and the rows that name the columns. */
interface Head {
  readonly skip: number;
  readonly heading: boolean;
  readonly headingRows: number;
  /** The names of the columns; null: nothing names them. */
  readonly names: readonly string[] | null;
}

function headOf(start: FileStart, rows: readonly string[][], lines: readonly number[], wanted: ReadingChoice): Head {
  const skip = wanted.skip ?? sniffTitles(rows.slice(0, 60));
  const below = rows.slice(skip, skip + 200);
  const said = start.headingAt(lines[skip] ?? 0);
  const heading = wanted.heading ?? said?.heading ?? sniffHeading(below);
  const headingRows = wanted.headingRows ?? said?.headingRows ?? 1;
  return { skip, heading, headingRows, names: heading ? joined(below.slice(0, headingRows)) : null };
}

/** Headings one above the other are one name; what is the same in both, as in a merged cell, is said once. */
function joined(rows: readonly (readonly string[])[]): readonly string[] {
  const width = Math.max(0, ...rows.map((row) => row.length));
  return Array.from({ length: width }, (_, at) => [...new Set(rows.map((row) => (row[at] ?? '').trim()))].filter((each) => each !== '').join(' '));
}

async function survey(start: FileStart, wanted: ReadingChoice, onProgress: (part: number) => Promise<void>): Promise<FileSurvey> {
  let head: Head | null = null;
  const tallies: ColumnTally[] = [];
  const sample: string[][] = [];
  const repeats = new RepeatFinder();
  let rows = 0;
  let left = 0;
  const { isTyped } = fileFormats[start.reading.format];
  await start.rows(async (part, lines, read) => {
    if (head === null && part.length > 0) {
      head = headOf(start, part, lines, wanted);
      left = head.skip + (head.heading ? head.headingRows : 0);
    }
    const from = Math.min(left, part.length);
    left -= from;
    for (let i = from; i < part.length; i += 1) {
      const cells = part[i] as string[];
      if (cells.every((cell) => cell.trim() === '')) continue;
      // A column that begins only here had empty cells until now, which tell nothing of its kind.
      while (tallies.length < cells.length && tallies.length <= mostColumns) tallies.push(new ColumnTally(isTyped));
      for (let c = 0; c < tallies.length; c += 1) (tallies[c] as ColumnTally).see(cells[c] ?? '');
      repeats.see(cells, lines[i] as number);
      if (sample.length < sampleRows) sample.push(cells.slice(0, mostColumns).map((cell) => cell.slice(0, 200)));
      rows += 1;
    }
    await onProgress(read);
  });
  const found = head as Head | null;
  if (found === null || (tallies.length === 0 && found.names === null))
    throw new FileUnreadable(start.parts.length > 1 ? `${start.reading.part} has no rows. Choose another part of the file.` : 'The file has no rows.');
  // A heading decides how many columns there are: what stands beyond it in single rows is a complaint, not a column.
  const width = found.names === null ? tallies.length : found.names.length;
  if (width > mostColumns)
    throw new FileUnreadable(`The file has ${standardLocale().count(width)} columns. At most 1,000 can be imported: leave out what is not needed.`);
  while (tallies.length < width) tallies.push(new ColumnTally(isTyped));
  const columns = columnNames(found.names, width).map((name, i) => ({ ...(tallies[i] as ColumnTally).result(name, start.amountsIn?.(i)), rows }));
  return {
    reading: { ...start.reading, heading: found.heading, headingRows: found.headingRows, skip: found.skip },
    parts: [...start.parts],
    rows,
    columns,
    sample: sample.map((cells) => cells.slice(0, width)),
    repeats: repeats.result(columns.map((column) => column.kind)),
  };
}
