/** Answers of saved queries: rows and ledger, as far as the person can see the records behind them. */
import {
  compileLedger,
  compileResult,
  ledgerOf,
  localeFor,
  mayOpen,
  partSeen,
  readQuery,
  restrict,
  shownType,
  type AskedQuery,
  type PartSeen,
  type Person,
  type QueryResult,
  type ResultColumn,
  type SavedQuery,
  unitOf,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';

// Of longer texts an answer on screen shows this much.
const longestShown = 1000;

/** @throws Refusal not_found when there is none, or it is not among the pages of this person */
export function savedQuery({ app, person }: { readonly app: OpenedApp; readonly person: Person }, id: string): SavedQuery {
  const saved = app.design.queries.find((query) => query.id === id);
  if (saved === undefined || !mayOpen(app.design, person, { kind: 'query', query: id }))
    throw new Refusal('not_found', "This query doesn't exist or you don't have access to it.");
  return saved;
}

/** @throws Refusal invalid, with an issue for each part of the query that cannot be read */
export function askedOf(query: SavedQuery, app: OpenedApp): AskedQuery {
  const read = readQuery(query, app.design);
  if (!read.ok)
    throw new Refusal(
      'invalid',
      read.problems[0]?.message ?? '',
      read.problems.map((problem) => ({ path: problem.column === null ? 'condition' : `columns.${problem.column}`, message: problem.message })),
    );
  return read.asked;
}

/** Which part of the records an answer is made of. */
export const seenOf = (asked: AskedQuery, { design }: OpenedApp, person: Person): PartSeen =>
  partSeen(design, person, asked.table, [...asked.steps, ...asked.columns.flatMap((column) => column.node ?? [])]);

/** What is in the columns of a query. */
export const columnsOf = (
  query: { readonly columns: readonly Pick<SavedQuery['columns'][number], 'name' | 'digits'>[] },
  asked: AskedQuery,
): readonly ResultColumn[] =>
  asked.columns.map((column, i) => {
    const type = shownType(column);
    const { name = '', digits = null } = query.columns[i] ?? {};
    return {
      id: column.id,
      name,
      type: type.kind,
      table: type.kind === 'record' ? type.table : null,
      digits,
      unit: column.node === null || column.summary === 'count' ? null : unitOf(column.node),
    };
  });

export async function answerQuery(database: DataSource, app: OpenedApp, person: Person, query: SavedQuery, limit: number): Promise<QueryResult> {
  if (!app.design.tables.some((table) => table.id === query.table)) throw new Refusal('invalid', 'Say which records the query is about.');
  const asked = askedOf(query, app);
  const source = [restrict(asked, app.design, person, Date.now()), app.design, app.schema] as const;
  const [rows, [counted]] = await Promise.all([
    run<QueryResult['rows'][number]>(database, compileResult(source, limit, [], longestShown)),
    run<{ counts: number[] }>(database, compileLedger(...source)),
  ]);
  return {
    columns: [...columnsOf(query, asked)],
    rows: [...rows],
    ledger: [...ledgerOf(query, asked, app.design, counted?.counts ?? [], localeFor(app.design, person))],
    seen: seenOf(asked, app, person),
  };
}
