/** Lists of records in JSON (RFC 8259), also one record per line, read as they stream in. */
import { createReadStream } from 'node:fs';
import { standardLocale } from '@bibliona/core';
import { chunkSize, FileUnreadable, type FormatReader, type OnRows } from './format.js';
import { JsonEntries, parseExactly, type JsonForm } from './json-entries.js';
import { plainNumber } from './plain-number.js';

type Json = string | number | boolean | null | readonly Json[] | { readonly [name: string]: Json };
type JsonObject = { readonly [name: string]: Json };

/** A list that is the file itself, and not one inside of it, has no name of its own. */
const wholeFile = 'Records';
/** Columns of the record that a list is in, beside those of the list. */
const ofParent = (name: string): string => `Parent ${name}`;
const nameOf = (list: string, inner: string): string => (list === wholeFile ? inner : `${list} / ${inner}`);

const afterMark = (head: Buffer): string => head.toString('utf8').replace(/^\uFEFF/u, '');

const deepest = 3;
const mostColumns = 1000;
const byteOrderMark = Buffer.from([0xef, 0xbb, 0xbf]);
const largestEntry = 32 * 1024 * 1024;

export const json: FormatReader = {
  isOne: (head) => /^\s*(?:\{\s*"|\[\s*[[{"])/u.test(afterMark(head)),
  begin: async ({ path, size, head }, wanted) => {
    const form = formOf(afterMark(head));
    const lists = await listsOf(path, size, form);
    const parts = [...lists.keys()];
    const [longest] = parts.toSorted((a, b) => (lists.get(b)?.rows ?? 0) - (lists.get(a)?.rows ?? 0));
    if (longest === undefined) throw new FileUnreadable('The file has no list of records. It can be a list of objects, or an object that has such lists.');
    const part = wanted.part !== undefined && lists.has(wanted.part) ? wanted.part : longest;
    const names = [...(lists.get(part)?.columns ?? [])];
    if (names.length > mostColumns) throw new FileUnreadable(`${part} has ${standardLocale().count(names.length)} columns. At most 1,000 can be imported.`);
    return {
      reading: { format: 'json', encoding: 'utf-8', delimiter: ',', part, range: '' },
      parts,
      headingAt: () => ({ heading: true, headingRows: 1 }),
      rows: (onRows) => rowsOf(path, size, form, part, names, onRows),
    };
  },
};

/** An object that another one follows is the first of many. */
function formOf(head: string): JsonForm {
  if (head.trimStart().startsWith('[')) return 'list';
  let count = 0;
  const entries = new JsonEntries('lines', () => (count += 1));
  try {
    entries.push(Buffer.from(head));
  } catch {
    return 'lists';
  }
  return count > 1 || (count === 1 && entries.waiting > 0) ? 'lines' : 'lists';
}

type Entry = JsonObject;

/** Calls for each entry of each list, and after each part of the file. @throws FileUnreadable */
async function eachEntry(
  path: string,
  size: number,
  form: JsonForm,
  onEntry: (list: string, entry: Entry) => void,
  onPart: (part: number) => Promise<void> | null,
): Promise<void> {
  let [bytes, all] = [0, 0];
  const entries = new JsonEntries(form, (list, text) => {
    const value = parseExactly(text, plainNumber) as Json;
    all += 1;
    onEntry(form === 'lists' ? list : wholeFile, asEntry(value));
  });
  const feed = (work: () => void): void => {
    try {
      work();
    } catch (error) {
      if (error instanceof FileUnreadable) throw error;
      const after = all === 0 ? '' : ` after ${standardLocale().count(all)} ${all === 1 ? 'entry' : 'entries'}`;
      throw new FileUnreadable(`The JSON of the file breaks off or has an error${after}. Correct it where it was made and choose it again.`);
    }
  };
  for await (const chunk of createReadStream(path, { highWaterMark: chunkSize }) as AsyncIterable<Buffer>) {
    const isFirst = bytes === 0;
    bytes += chunk.length;
    feed(() => entries.push(isFirst && chunk.subarray(0, 3).equals(byteOrderMark) ? chunk.subarray(3) : chunk));
    if (entries.waiting > largestEntry)
      throw new FileUnreadable(`Entry ${standardLocale().count(all + 1)} of the file is larger than 32 MB. It can't be a record.`);
    const wait = onPart(Math.min(1, bytes / size));
    if (wait !== null) await wait;
  }
  feed(() => entries.finish());
}

const isObject = (value: Json): value is JsonObject => typeof value === 'object' && value !== null && !Array.isArray(value);
const asEntry = (value: Json): Entry =>
  Array.isArray(value) ? Object.fromEntries(value.map((each, i) => [`Column ${i + 1}`, each])) : isObject(value) ? value : { Value: value };

const word = (value: Json): string =>
  value === null ? '' : typeof value === 'boolean' ? (value ? 'yes' : 'no') : typeof value === 'object' ? JSON.stringify(value) : String(value);

interface Flat {
  readonly cells: Map<string, string>;
  /** Lists of records inside, by their names. */
  readonly lists: Map<string, readonly Entry[]>;
}

/** What is inside of an object becomes columns beside the others, named by the way to them. */
function flat(entry: Entry, into: Flat = { cells: new Map(), lists: new Map() }, before = '', depth = 1): Flat {
  for (const [key, value] of Object.entries(entry)) {
    const name = before === '' ? key : `${before} ${key}`;
    if (Array.isArray(value) && value.some(isObject)) into.lists.set(name, value.map(asEntry));
    else if (Array.isArray(value) && value.every((each) => typeof each !== 'object' || each === null)) into.cells.set(name, value.map(word).join(', '));
    else if (isObject(value) && depth < deepest) flat(value, into, name, depth + 1);
    else into.cells.set(name, word(value));
  }
  return into;
}

interface List {
  /** The names of its columns, in the order in which they turn up. */
  readonly columns: Set<string>;
  rows: number;
}

/** The lists of the file, in their order. */
async function listsOf(path: string, size: number, form: JsonForm): Promise<ReadonlyMap<string, List>> {
  const found = new Map<string, List>();
  const within = new Map<string, readonly [list: string, inner: string]>();
  const see = (name: string, columns: Iterable<string>): void => {
    const list = found.get(name) ?? { columns: new Set<string>(), rows: 0 };
    found.set(name, list);
    list.rows += 1;
    if (list.columns.size <= mostColumns) for (const column of columns) list.columns.add(column);
  };
  const onEntry = (list: string, entry: Entry): void => {
    const { cells, lists } = flat(entry);
    see(list, cells.keys());
    for (const [inner, entries] of lists) {
      within.set(`${list} ${inner}`, [list, inner]);
      for (const row of rowsWithin(cells, entries)) see(nameOf(list, inner), row.keys());
    }
  };
  await eachEntry(path, size, form, onEntry, () => null);
  // Where such a list is empty it looks like a list of values, which would be a column.
  for (const [list, inner] of within.values()) found.get(list)?.columns.delete(inner);
  return new Map([...found].filter(([, list]) => list.columns.size > 0));
}

const rowsWithin = (parent: ReadonlyMap<string, string>, entries: readonly Entry[]): ReadonlyMap<string, string>[] =>
  entries.map((entry) => new Map([...flat(entry).cells, ...[...parent].map(([name, value]): [string, string] => [ofParent(name), value])]));

const rowsAtOnce = 500;

async function rowsOf(path: string, size: number, form: JsonForm, wanted: string, names: readonly string[], onRows: OnRows): Promise<void> {
  let rows: string[][] = [[...names]];
  let lines: number[] = [0];
  const pass = (part: number): Promise<void> => {
    const [now, at] = [rows, lines];
    [rows, lines] = [[], []];
    return onRows(now, at, part);
  };
  let count = 0;
  const take = (cells: ReadonlyMap<string, string>): void => {
    count += 1;
    rows.push(names.map((name) => cells.get(name) ?? ''));
    lines.push(count);
  };
  await eachEntry(
    path,
    size,
    form,
    (list, entry) => {
      const { cells, lists } = flat(entry);
      if (list === wanted) take(cells);
      else for (const [inner, entries] of lists) if (nameOf(list, inner) === wanted) for (const row of rowsWithin(cells, entries)) take(row);
    },
    (part) => (rows.length < rowsAtOnce ? null : pass(part)),
  );
  await pass(1);
}
