/** Answers of saved queries: rows and ledger, as far as the person can see the records behind them. */
import {
  compileLedger,
  compilePickable,
  canGroupBy,
  canTotal,
  compileResult,
  compileResultGroups,
  compileTotals,
  mostPickedValues,
  givesAmount,
  ledgerOf,
  localeFor,
  mayOpen,
  partSeen,
  readQuery,
  restrict,
  shownType,
  type AskedColumn,
  type AskedQuery,
  type contract,
  type GroupLevels,
  type PickableValue,
  type PickedRows,
  type RestrictedQuery,
  type RowsPicked,
  type RowsRead,
  type PartSeen,
  type Person,
  type QueryResult,
  type ResultGroup,
  type ResultColumn,
  type SavedQuery,
  unitOf,
  valuesPicked,
  written,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import type { z } from 'zod';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { withChosen } from '../records/chosen-values.js';
import { RecordReader } from '../records/read.js';

// Of longer texts an answer on screen shows this much.
const longestShown = 1000;

/** Rows that are read for a screen. */
type RowsWanted = Pick<RowsRead, 'limit' | 'arranged' | 'picked' | 'skip'>;

/** What someone picks, as the compiler is asked for it. */
export const pickedOf = ({ search, only, sort, direction }: RowsPicked): Required<Pick<RowsRead, 'arranged' | 'picked'>> => ({
  arranged: sort === undefined ? [] : [{ column: sort, direction }],
  picked: { search, narrowed: only },
});

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
      ...(givesAmount(column.summary) ? { isAmount: true } : {}),
    };
  });

type Source = readonly [RestrictedQuery<AskedQuery>, OpenedApp['design'], string];

/** What is the same in every answer of a query, and how its rows are asked for. @throws Refusal invalid */
function asking(
  app: OpenedApp,
  person: Person,
  query: SavedQuery,
): { readonly asked: AskedQuery; readonly source: Source; readonly about: Pick<QueryResult, 'columns' | 'seen'> } {
  if (!app.design.tables.some((table) => table.id === query.table)) throw new Refusal('invalid', 'Say which records the query is about.');
  const asked = askedOf(query, app);
  const source = [restrict(asked, app.design, person, Date.now()), app.design, app.schema] as const;
  return { asked, source, about: { columns: [...columnsOf(query, asked)], seen: seenOf(asked, app, person) } };
}

const rowsOf = async (database: DataSource, source: Source, read: RowsWanted): Promise<QueryResult['rows']> => [
  ...(await run<QueryResult['rows'][number]>(database, compileResult(source, { ...read, longest: longestShown }))),
];

/** The first rows of a query that is being written, with its ledger. */
export async function tryQuery(database: DataSource, app: OpenedApp, person: Person, query: SavedQuery, limit: number): Promise<QueryResult> {
  const { asked, source, about } = asking(app, person, query);
  const [rows, [counted]] = await Promise.all([rowsOf(database, source, { limit }), run<{ counts: number[] }>(database, compileLedger(...source))]);
  return { ...about, rows, ledger: [...ledgerOf(query, asked, app.design, counted?.counts ?? [], localeFor(app.design, person))] };
}

/** Whether the values of a column give one of the whole when they are added: averages and the like of groups give none. */
export const addsUp = ({ summary }: AskedColumn): boolean => summary === 'count' || summary === 'sum';

/** Whether it is what a chart of the query draws: numbers that the builder says can be added. */
const isDrawnSum = ({ arrangement }: SavedQuery, column: AskedColumn): boolean =>
  arrangement?.kind === 'chart' && arrangement.sum === column.id && column.summary === null && canTotal(shownType(column), 'sum');

/** Rows of a saved query, as someone goes through them. */
export async function readQueryRows(
  database: DataSource,
  app: OpenedApp,
  person: Person,
  query: SavedQuery,
  read: RowsWanted & { readonly isCounted: boolean },
): Promise<z.infer<typeof contract.readQuery.answer>> {
  const { asked, source, about } = asking(app, person, query);
  const summed = asked.columns.filter(addsUp).map(({ id }) => ({ column: id, summary: 'sum' as const }));
  const count = async () => (await run<{ count: number; totals: readonly (string | null)[] }>(database, compileTotals(source, summed, read.picked)))[0];
  const [rows, counted] = await Promise.all([rowsOf(database, source, read), read.isCounted ? count() : undefined]);
  const sums = Object.fromEntries(summed.map(({ column }, i) => [column, counted?.totals[i] ?? null]));
  return { ...about, rows, found: counted?.count ?? null, sums: counted === undefined ? {} : sums };
}

/** Of each level so many groups are told. */
const mostGroups = 500;

/** The groups of rows of a saved query: how many rows share values, and what was counted or summed up in them. A column without such values groups nothing. */
export async function readQueryGroups(
  database: DataSource,
  app: OpenedApp,
  person: Person,
  query: SavedQuery,
  { picked, by }: { readonly picked: PickedRows; readonly by: readonly string[] },
): Promise<GroupLevels> {
  const { asked, source } = asking(app, person, query);
  const summed = asked.columns.filter((column) => addsUp(column) || isDrawnSum(query, column)).map(({ id }) => id);
  const own = [...new Set(by)].filter((id) => asked.columns.some((column) => column.id === id && canGroupBy(shownType(column).kind)));
  const totals = summed.map((column) => ({ column, summary: 'sum' as const }));
  const groups = await run<ResultGroup>(database, compileResultGroups(source, own, totals, picked, mostGroups + 1));
  const levels = Array.from({ length: own.length + 1 }, (_, depth) => {
    const level = groups.filter((group) => group.depth === depth).map(({ values, count, sums }) => ({ values: [...values], count, sums: [...sums] }));
    return { groups: level.slice(0, mostGroups), more: level.length > mostGroups };
  });
  return { by: own, sums: summed, levels };
}

/**
 * By which values the rows of a saved query can be picked. The builder says by which columns; else one is offered where rows share
 * values, a text where there are few different ones: which those are is the same whatever is picked.
 */
export async function readQueryValues(
  database: DataSource,
  app: OpenedApp,
  person: Person,
  query: SavedQuery,
  picked: PickedRows,
): Promise<z.infer<typeof contract.readQueryValues.answer>> {
  const { asked, source } = asking(app, person, query);
  const rows = await run<PickableValue>(database, compilePickable(source, picked, query.quickFilters ?? null));
  const reader = new RecordReader(database, app, person);
  const columns = await Promise.all(
    asked.columns.map(async (column) => {
      const own = rows.filter((row) => row.column === column.id);
      const { different = 0, rows: all = 0 } = own[0] ?? {};
      const type = shownType(column);
      const isShared = different > 1 && different < all && (different <= mostPickedValues || type.kind !== 'string');
      const isOffered = query.quickFilters?.includes(column.id) ?? isShared;
      const chosen = valuesPicked(picked.narrowed, column.id);
      if (!isOffered && chosen.length === 0) return [];
      const counted = own.flatMap(({ value, count }) => (count === null ? [] : [{ value, count }]));
      const shown = counted.filter(({ value }, i) => i < mostPickedValues || chosen.includes(written(value)));
      const values = await withChosen(reader, type, chosen, shown);
      return [{ column: column.id, values, more: counted.length > mostPickedValues }];
    }),
  );
  return { columns: columns.flat() };
}
