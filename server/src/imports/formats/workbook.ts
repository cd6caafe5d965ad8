/** Workbooks of ECMA-376 (XLSX): sheets as rows of cells, read as they are unpacked. */
import { open } from 'node:fs/promises';
import { posix } from 'node:path';
import { columnNumber, rangeOf, type Range } from '@bibliona/core';
import { numberFormat, type NumberFormat } from './cell-words.js';
import { chunkSize, FileUnreadable, type FileStart, type FormatReader, type OnRows } from './format.js';
import { MergedCells, type Merge } from './merged-cells.js';
import { SheetRows, type Amounts } from './sheet-rows.js';
import { eachElement } from './xml.js';
import { damaged, openArchive, type Archive } from './zip.js';

const [zipSign, oldSign] = [Buffer.from([0x50, 0x4b, 0x03, 0x04]), Buffer.from([0xd0, 0xcf, 0x11, 0xe0])];
const startsWith = (head: Buffer, sign: Buffer): boolean => head.subarray(0, sign.length).equals(sign);

export const workbook: FormatReader = {
  isOne: (head) => startsWith(head, zipSign) || startsWith(head, oldSign),
  begin: async ({ path, size, head }, wanted) => {
    if (startsWith(head, oldSign)) throw new FileUnreadable(await whyOld(path, size));
    const archive = await openArchive(path);
    try {
      const book = await bookOf(archive);
      const names = book.sheets.map((sheet) => sheet.name);
      const part =
        wanted.part !== undefined && names.includes(wanted.part) ? wanted.part : (book.sheets.find((each) => !each.isHidden) ?? book.sheets[0])?.name;
      const sheet = book.sheets.find((each) => each.name === part);
      if (part === undefined || sheet === undefined) throw new FileUnreadable('The workbook has no sheet with cells.');
      const merges = await mergesOf(archive, sheet.path);
      const range = wanted.range ?? '';
      const amounts: Amounts = new Map();
      return {
        reading: { format: 'workbook', encoding: 'utf-8', delimiter: ',', part, range },
        parts: names,
        headingAt: (line) => headingAt(merges, line),
        rows: (onRows) => {
          amounts.clear();
          return sheetRows(path, sheet.path, { range: rangeOf(range), merges, amounts }, onRows);
        },
        amountsIn: (column) => {
          const [only, ...others] = amounts.get(column) ?? [];
          return only === undefined || others.length > 0 ? null : { currency: only[0], cells: only[1] };
        },
      } satisfies FileStart;
    } finally {
      archive.close();
    }
  },
};

/** Workbooks with a password, and those from before 2007, are files of the same sort. */
async function whyOld(path: string, size: number): Promise<string> {
  const file = await open(path);
  const mark = Buffer.from('EncryptedPackage', 'utf16le');
  try {
    // The directory that names its parts is in one of the ends of the file.
    for (const from of [0, Math.max(0, size - 4 * chunkSize)]) {
      const part = Buffer.alloc(Math.min(size, 4 * chunkSize));
      await file.read(part, 0, part.length, from);
      if (part.includes(mark)) return 'The workbook is protected by a password. Remove the password where it was made and choose it again.';
    }
  } finally {
    await file.close();
  }
  return 'This is a workbook of an old kind. Open it where it was made and save it as XLSX or CSV.';
}

interface Sheet {
  readonly name: string;
  readonly isHidden: boolean;
  /** Where it is in the archive. */
  readonly path: string;
}

interface Book {
  readonly path: string;
  readonly sheets: readonly Sheet[];
  readonly since1904: boolean;
}

const whole = () => null;

/** Where each part is that another one refers to, by the name of the reference (ECMA-376, part 2, 6.5). */
async function related(archive: Archive, of: string): Promise<ReadonlyMap<string, { readonly type: string; readonly path: string }>> {
  const { dir, base } = posix.parse(of);
  const name = posix.join(dir, '_rels', `${base}.rels`);
  const found = new Map<string, { type: string; path: string }>();
  if (!archive.has(name)) return found;
  const open = (element: string, { Id = '', Type = '', Target = '' }: Readonly<Record<string, string>>): void => {
    if (element === 'Relationship') found.set(Id, { type: Type, path: Target.startsWith('/') ? Target.slice(1) : posix.join(dir, Target) });
  };
  await eachElement(await archive.open(name), { open }, whole);
  return found;
}

async function bookOf(archive: Archive): Promise<Book> {
  const path = [...(await related(archive, '')).values()].find((each) => each.type.endsWith('/officeDocument'))?.path ?? 'xl/workbook.xml';
  if (!archive.has(path) || !path.toLowerCase().endsWith('.xml'))
    throw new FileUnreadable(
      archive.has('content.xml') || archive.has('xl/workbook.bin')
        ? 'This is a workbook of another kind. Open it where it was made and save it as XLSX or CSV.'
        : 'This is an archive and no workbook. Unpack it and choose the file inside.',
    );
  const parts = await related(archive, path);
  const sheets: Sheet[] = [];
  let since1904 = false;
  const open = (element: string, attributes: Readonly<Record<string, string>>): void => {
    if (element === 'workbookPr') since1904 = isTrue(attributes['date1904']);
    if (element !== 'sheet') return;
    const id = Object.entries(attributes).find(([key]) => key === 'r:id' || key.endsWith(':id'))?.[1] ?? '';
    const part = parts.get(id);
    // A sheet that is only a chart has no cells.
    if (part?.type.endsWith('/worksheet') !== true || !archive.has(part.path)) return;
    sheets.push({ name: attributes['name'] ?? '', isHidden: (attributes['state'] ?? 'visible') !== 'visible', path: part.path });
  };
  await eachElement(await archive.open(path), { open }, whole);
  return { path, sheets, since1904 };
}

const isTrue = (flag: string | undefined): boolean => flag === '1' || flag === 'true';

// As much as a thread can hold beside its rows.
const mostCharacters = 200_000_000;

/** The texts that cells refer to by their places (ECMA-376, part 1, 18.4). */
async function stringsOf(archive: Archive, path: string): Promise<readonly string[]> {
  const strings: string[] = [];
  if (!archive.has(path)) return strings;
  let [current, isText, isReading, length] = ['', false, false, 0];
  await eachElement(
    await archive.open(path),
    {
      open: (element) => {
        if (element === 'si') current = '';
        else if (element === 't') isText = true;
        else if (element === 'rPh') isReading = true;
      },
      text: (text) => {
        // How a word is pronounced stands beside it and is no part of it.
        if (isText && !isReading) current += text;
      },
      close: (element) => {
        if (element === 't') isText = false;
        else if (element === 'rPh') isReading = false;
        if (element !== 'si') return;
        length += current.length + 32;
        if (length > mostCharacters) throw new FileUnreadable('The workbook holds more text than can be read at once. Save the sheet as CSV and choose that.');
        strings.push(current);
      },
    },
    whole,
  );
  return strings;
}

/** For each style of a cell, by its place, what its numbers are. */
async function stylesOf(archive: Archive, path: string): Promise<readonly NumberFormat[]> {
  const codes = new Map<number, string>();
  const styles: NumberFormat[] = [];
  if (!archive.has(path)) return styles;
  let isOfCells = false;
  const open = (element: string, attributes: Readonly<Record<string, string>>): void => {
    if (element === 'numFmt') codes.set(Number(attributes['numFmtId']), attributes['formatCode'] ?? '');
    else if (element === 'cellXfs') isOfCells = true;
    else if (element === 'xf' && isOfCells) {
      const id = Number(attributes['numFmtId'] ?? 0);
      styles.push(numberFormat(id, codes.get(id)));
    }
  };
  const close = (element: string): void => {
    if (element === 'cellXfs') isOfCells = false;
  };
  await eachElement(await archive.open(path), { open, close }, whole);
  return styles;
}

async function sheetRows(
  path: string,
  sheet: string,
  { range, merges, amounts }: { readonly range: Range; readonly merges: readonly Merge[]; readonly amounts: Amounts },
  onRows: OnRows,
): Promise<void> {
  const archive = await openArchive(path);
  try {
    const book = await bookOf(archive);
    const parts = [...(await related(archive, book.path)).values()];
    const partOf = (type: string): string => parts.find((part) => part.type.endsWith(`/${type}`))?.path ?? '';
    const strings = await stringsOf(archive, partOf('sharedStrings'));
    const styles = await stylesOf(archive, partOf('styles'));
    const merged = new MergedCells(merges);
    let rows: string[][] = [];
    let lines: number[] = [];
    const reader = new SheetRows({ strings, styles, since1904: book.since1904, range, amounts }, (cells, line) => {
      merged.fill(cells, line, range.firstColumn);
      rows.push(cells);
      lines.push(line);
    });
    const size = archive.size(sheet);
    const pass = (part: number): Promise<void> => {
      const [now, at] = [rows, lines];
      [rows, lines] = [[], []];
      return onRows(now, at, part);
    };
    await eachElement(await archive.open(sheet), reader, (bytes) => (rows.length < 200 ? null : pass(Math.min(1, bytes / size))));
    await pass(1);
  } finally {
    archive.close();
  }
}

const mostMerges = 100_000;
/** No merge takes more characters. */
const longestMerge = 60;

/** Cells that are one, which a sheet says below its rows: looked for before they are read. */
async function mergesOf(archive: Archive, path: string): Promise<readonly Merge[]> {
  if (!archive.has(path)) throw damaged();
  const merges: Merge[] = [];
  let rest = '';
  const stream = await archive.open(path);
  try {
    for await (const chunk of stream as AsyncIterable<Buffer>) {
      const text = rest + chunk.toString('latin1');
      let end = 0;
      for (const found of text.matchAll(/mergeCell\s+ref="([A-Z]{1,3})(\d{1,7}):([A-Z]{1,3})(\d{1,7})"/gu)) {
        if (merges.length >= mostMerges) throw new FileUnreadable('The sheet has more than 100,000 merged cells. Save it as CSV and choose that.');
        merges.push({
          firstColumn: columnNumber(found[1] ?? ''),
          firstRow: Number(found[2]),
          lastColumn: columnNumber(found[3] ?? ''),
          lastRow: Number(found[4]),
        });
        end = found.index + found[0].length;
      }
      rest = text.slice(Math.max(end, text.length - longestMerge));
    }
  } catch (error) {
    throw error instanceof FileUnreadable ? error : damaged();
  } finally {
    stream.destroy();
  }
  return merges;
}

const mostHeadingRows = 3;

/** A heading over several columns stands above their own names. */
function headingAt(merges: readonly Merge[], line: number): { readonly heading: boolean; readonly headingRows: number } | null {
  const here = merges.filter((merge) => merge.firstRow === line);
  const tall = Math.max(1, ...here.map((merge) => merge.lastRow - merge.firstRow + 1));
  const isWide = here.some((merge) => merge.firstRow === merge.lastRow && merge.lastColumn > merge.firstColumn);
  const rows = isWide ? Math.max(2, tall) : tall;
  return rows === 1 || rows > mostHeadingRows ? null : { heading: true, headingRows: rows };
}
