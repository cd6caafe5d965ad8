/** What the tiles of dashboards show, as far as the person can see the records behind them. */
import {
  behind,
  chartOrder,
  chartQuestion,
  compileResult,
  compileTotals,
  countShown,
  isChart,
  labelOfTile,
  questionOf,
  restrict,
  totalShown,
  type AskedQuery,
  type AskedTotal,
  type Chart,
  type Person,
  type QueryResult,
  type Tile,
  type TileAnswer,
  type TileOf,
  type Value,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { askedOf, columnsOf, seenOf } from '../queries/read-query.js';
import type { KeptAnswers } from '../queries/kept-answers.js';
import { questionAsked, type Rows } from '../queries/read-rows.js';

// Points beyond those shown are counted, not drawn; more than this is said as "more than".
const mostPoints = 1000;

/** @throws Refusal invalid when it cannot be read any more */
export async function answerTile(answers: KeptAnswers, app: OpenedApp, person: Person, tile: Tile): Promise<TileAnswer> {
  return isChart(tile) ? answerChart(answers, app, person, tile) : answerFigure(answers, app, person, tile);
}

/** Totals of all rows of a question. */
async function readTotals(answers: KeptAnswers, app: OpenedApp, person: Person, asked: AskedQuery, totals: readonly AskedTotal[]): Promise<Rows['counted']> {
  const restricted = restrict(asked, app.design, person, Date.now());
  const [counted] = await answers.rows<Rows['counted']>(app, compileTotals([restricted, app.design, app.schema], totals));
  return counted ?? { count: 0, totals: [] };
}

async function answerFigure(answers: KeptAnswers, app: OpenedApp, person: Person, tile: TileOf<'figure'>): Promise<TileAnswer> {
  const { question, asked } = questionAsked(tile.source, app);
  const column = columnsOf(question, asked).find((each) => each.id === tile.column);
  if (column === undefined && tile.column !== null) throw gone();
  const { count, totals } = await readTotals(answers, app, person, asked, column === undefined ? [] : [{ column: column.id, summary: tile.summary }]);
  const { type, digits, unit, isAmount } = column === undefined ? countShown : totalShown(column, tile.summary);
  return {
    kind: 'figure',
    value: column === undefined ? String(count) : (totals[0] ?? null),
    type,
    digits,
    unit,
    isAmount,
    rows: count,
    seen: seenOf(asked, app, person),
  };
}

async function answerChart(answers: KeptAnswers, app: OpenedApp, person: Person, tile: Chart): Promise<TileAnswer> {
  const question = chartQuestion(tile, app.design);
  if (question === null) throw gone();
  const asked = askedOf(question, app);
  const columns = columnsOf(question, asked);
  const [at, of] = [tile.label, tile.value].map((id) => columns.findIndex((column) => column.id === id)) as [number, number];
  const [label, value] = [columns[at], columns[of]];
  if (label === undefined || value === undefined) throw gone();
  const restricted = restrict(asked, app.design, person, Date.now());
  const rows = await answers.rows<{ cells: Value[] }>(
    app,
    compileResult([restricted, app.design, app.schema], { limit: mostPoints, arranged: chartOrder(tile) }),
  );
  const points = rows.slice(0, tile.most).map(({ cells }) => {
    const amount = cells[of] ?? null;
    return { label: cells[at] ?? null, value: typeof amount === 'string' || typeof amount === 'number' ? String(amount) : null };
  });
  const axis = ({ name, type, digits, unit, isAmount }: typeof label) => ({ name, type, digits, unit, isAmount });
  return { kind: 'series', label: axis(label), value: axis(value), points, more: rows.length - points.length, seen: seenOf(asked, app, person) };
}

const gone = (): Refusal => new Refusal('invalid', 'The data of this tile no longer exists in the app.');

/** The records that a tile is made of, or one point of it. @throws Refusal invalid */
export async function readBehindTile(
  database: DataSource,
  app: OpenedApp,
  person: Person,
  tile: Tile,
  label: { readonly value: Value } | null,
  limit: number,
): Promise<QueryResult & { readonly table: string }> {
  const labelled = questionOf(tile.source, app.design)?.columns.find((column) => column.id === labelOfTile(tile));
  if (label !== null && labelled !== undefined && labelled.summary !== null)
    throw new Refusal('invalid', `${labelled.name} is a summary itself, so the records behind its values can't be shown.`);
  const made = behind(tile, app.design, label);
  if (made === null) throw gone();
  const restricted = restrict(made.asked, app.design, person, Date.now());
  const rows = await run<QueryResult['rows'][number]>(database, compileResult([restricted, app.design, app.schema], { limit, longest: 1000 }));
  return { table: made.question.table, columns: [...columnsOf(made.question, made.asked)], rows: [...rows], ledger: [], seen: seenOf(made.asked, app, person) };
}
