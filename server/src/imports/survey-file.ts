import { columnNames, ColumnTally, sniffHeading, sniffTitles, type FileSurvey } from '@bibliona/core';
import { FileUnreadable, readRows, startOf, withEncoding, type FileStart } from './read-file.js';

const sampleRows = 30;

/** Reads the whole file and says what is in it: every cell counts, not only the first. */
export async function surveyFile(path: string, wanted: Partial<FileSurvey['reading']>, onProgress: (part: number) => Promise<void>): Promise<FileSurvey> {
  const start = await startOf(path, wanted);
  return withEncoding(path, start, wanted.encoding !== undefined, (as) => survey(path, as, wanted, onProgress));
}

async function survey(
  path: string,
  start: FileStart,
  wanted: Partial<FileSurvey['reading']>,
  onProgress: (part: number) => Promise<void>,
): Promise<FileSurvey> {
  let heading: readonly string[] | null | undefined;
  const tallies: ColumnTally[] = [];
  const sample: string[][] = [];
  let rows = 0;
  let skip = 0;
  let left = 0;
  await readRows(path, start, async (part, _, read) => {
    if (heading === undefined && part.length > 0) {
      skip = wanted.skip ?? sniffTitles(part.slice(0, 60));
      left = skip;
      const first = part[skip] ?? [];
      heading = (wanted.heading ?? sniffHeading(part.slice(skip, skip + 200))) ? first : null;
      if (heading !== null) left += 1;
    }
    const from = Math.min(left, part.length);
    left -= from;
    for (let i = from; i < part.length; i += 1) {
      const cells = part[i] as string[];
      if (cells.every((cell) => cell.trim() === '')) continue;
      // A column that begins only here had empty cells until now, which tell nothing of its kind.
      while (tallies.length < cells.length && tallies.length < 1000) tallies.push(new ColumnTally());
      for (let c = 0; c < tallies.length; c += 1) (tallies[c] as ColumnTally).see(cells[c] ?? '');
      if (sample.length < sampleRows) sample.push(cells.slice(0, 1000).map((cell) => cell.slice(0, 200)));
      rows += 1;
    }
    await onProgress(read / start.size);
  });
  if (heading === undefined || (tallies.length === 0 && heading === null)) throw new FileUnreadable('The file has no rows.');
  // A heading decides how many columns there are: what stands beyond it in single rows is a complaint, not a column.
  const width = heading === null ? tallies.length : heading.length;
  while (tallies.length < width) tallies.push(new ColumnTally());
  const names = columnNames(heading, width);
  const columns = names.map((name, i) => ({ ...(tallies[i] as ColumnTally).result(name), rows }));
  return {
    reading: { encoding: start.encoding, delimiter: start.delimiter, heading: heading !== null, skip },
    rows,
    columns,
    sample: sample.map((cells) => cells.slice(0, width)),
  };
}
