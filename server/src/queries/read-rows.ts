/** Rows for reports and tiles: of a table or a saved query, read and counted in one look at the data. */
import {
  compilePaper,
  compileTotals,
  everyRow,
  isDrawn,
  questionOf,
  restrict,
  type AskedColumn,
  type AskedQuery,
  type AskedTotal,
  type PartSeen,
  type PickedRows,
  type Person,
  type QueryOrder,
  type QueryResult,
  type ReportColumn,
  type RestrictedQuery,
  type ResultColumn,
  type RowSource,
  type SavedQuery,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { atOneMoment } from '../db/database.js';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { askedOf, columnsOf, seenOf } from './read-query.js';

// Of longer texts a report prints this much: two pages of nothing else.
const longestPrinted = 5000;

export interface AskedRows {
  readonly source: RowSource;
  readonly arranged: readonly QueryOrder[];
  readonly totals: readonly AskedTotal[];
  readonly limit: number;
  /** Rows are left out and counted as they are picked; absent: all are read. */
  readonly picked?: PickedRows;
}

export interface Rows {
  readonly columns: readonly (ResultColumn & Pick<ReportColumn, 'drawn'>)[];
  readonly rows: QueryResult['rows'];
  /** Of all rows, whatever the limit, counted by the database. */
  readonly counted: { readonly count: number; readonly totals: readonly (string | null)[] };
  readonly seen: PartSeen;
}

/** The question behind rows. @throws Refusal invalid when it cannot be read */
export function questionAsked(source: RowSource, app: OpenedApp): { readonly question: SavedQuery; readonly asked: AskedQuery } {
  const question = questionOf(source, app.design);
  if (question === null || !app.design.tables.some((table) => table.id === question.table))
    throw new Refusal('invalid', 'The source of these rows no longer exists in the app.');
  return { question, asked: askedOf(question, app) };
}

/** @throws Refusal invalid */
export async function readRows(database: DataSource, app: OpenedApp, person: Person, wanted: AskedRows): Promise<Rows> {
  const { question, asked } = questionAsked(wanted.source, app);
  const rows = await readPaper(database, app, restrict(asked, app.design, person, Date.now()), question, wanted);
  return { ...rows, seen: seenOf(asked, app, person) };
}

/** Rows for paper, and what is counted of all of them. `named`: what their columns are called, in the same order. */
export async function readPaper(
  database: DataSource,
  app: OpenedApp,
  restricted: RestrictedQuery<AskedQuery>,
  named: Parameters<typeof columnsOf>[0],
  { limit, arranged, totals, picked = everyRow }: Omit<AskedRows, 'source'>,
): Promise<Omit<Rows, 'seen'>> {
  const asked = restricted.query;
  const source = [restricted, app.design, app.schema] as const;
  return atOneMoment(database, async (runner) => {
    const rows = await run<QueryResult['rows'][number]>(runner, compilePaper(source, { limit, arranged, picked, longest: longestPrinted }));
    const [counted] = await run<Rows['counted']>(runner, compileTotals(source, totals, picked));
    const columns = columnsOf(named, asked).map((column, i) => ({ ...column, drawn: drawnIn(asked.columns[i]) }));
    return { columns, rows: [...rows], counted: counted ?? { count: 0, totals: [] } };
  });
}

/** The kind of field whose drawings are in a column. */
const drawnIn = (column: AskedColumn | undefined): ReportColumn['drawn'] =>
  column !== undefined && isDrawn(column) && column.node?.kind === 'field' ? column.node.field.kind : undefined;
