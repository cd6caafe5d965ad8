/** Tiles while they are being made: what they begin as, and every edit a new one. */
import { gridColumns, hasOwnColumns, questionOf, type AppDesign, type Dashboard, type QueryColumn, type Summary, type Tile } from '@bibliona/core';
import { offersOf, rowSources, type Offer, type PickedRows } from '../rows/row-sources.js';
import { isChartName, tileKinds } from './tile-kinds.js';

export type Place = Tile['place'];

export const steps = ['day', 'month', 'year'] as const;
/** In which steps dates are taken together. */
export type Step = (typeof steps)[number];

/** An average of whole numbers is shown with a digit after the point, one of money with as many as money has. */
const digitsOf = ({ digits }: Offer, summary: Summary): number | null => (summary === 'average' ? Math.max(digits ?? 0, 1) : digits);

/** A date as the first day of its month or year. */
const stepped = (expression: string, step: Step): string =>
  step === 'day' ? expression : step === 'month' ? `date(${expression}.year, ${expression}.month, 1)` : `date(${expression}.year, 1, 1)`;

/** The answers with which a tile begins. */
export interface Answers {
  readonly name: string;
  readonly kind: Tile['kind'];
  readonly source: PickedRows;
  /** How rows become one number; of a query's chart the column is taken as it is. */
  readonly summary: Summary;
  /** What is summarised; empty: the records, which are counted. */
  readonly of: string;
  /** By what points are called. */
  readonly per: string;
  readonly step: Step;
}

const summaryWords: Readonly<Record<Summary, string>> = { count: 'Number of', sum: '', average: 'Average', smallest: 'Smallest', largest: 'Largest' };

/** What a tile is called when nothing else is said. */
export function nameFor(answers: Answers, design: AppDesign): string {
  const offers = offersOf(answers.source, design);
  const of = offers.find((offer) => offer.id === answers.of)?.name;
  const what = of === undefined ? rowSources[answers.source.kind].name(design, answers.source.id) : `${summaryWords[answers.summary]} ${of}`.trim();
  const per = offers.find((offer) => offer.id === answers.per)?.name;
  return (!isChartName(answers.kind) || per === undefined ? what : `${what} by ${per.toLowerCase()}`).slice(0, 60);
}

/** The tile that these answers give, at that place. */
export function tileFrom(answers: Answers, design: AppDesign, id: string, place: Place, newId: (prefix: string) => string): Tile {
  const name = answers.name.trim() === '' ? nameFor(answers, design) : answers.name;
  const offers = offersOf(answers.source, design);
  const of = offers.find((offer) => offer.id === answers.of);
  const { isGiven, source: sourceWith, name: rowsName } = rowSources[answers.source.kind];
  const common = { id, name, place };
  const { kind } = answers;
  if (!isChartName(kind)) {
    const column: QueryColumn | null =
      of === undefined || isGiven ? null : { id: newId('c'), name: of.name, expression: of.expression, summary: null, digits: digitsOf(of, answers.summary) };
    const source = sourceWith(answers.source.id, column === null ? [] : [column]);
    const at = isGiven ? (of?.id ?? null) : (column?.id ?? null);
    return { ...common, kind, source, column: at, summary: at === null ? 'count' : answers.summary, target: null, judgement: null };
  }
  const { begins } = tileKinds[kind];
  if (isGiven) return { ...common, ...begins, kind, source: sourceWith(answers.source.id, []), label: answers.per, value: answers.of };
  const per = offers.find((offer) => offer.id === answers.per);
  const label: QueryColumn = {
    id: newId('c'),
    name: per?.name ?? '',
    expression: per?.kind === 'date' ? stepped(per.expression, answers.step) : (per?.expression ?? ''),
    summary: null,
    digits: per?.digits ?? null,
  };
  const value: QueryColumn = {
    id: newId('c'),
    name:
      of === undefined ? `Number of ${rowsName(design, answers.source.id)}`.slice(0, 60) : `${summaryWords[answers.summary]} ${of.name}`.trim().slice(0, 60),
    expression: of?.expression ?? '',
    summary: of === undefined ? 'count' : answers.summary,
    digits: of === undefined ? 0 : digitsOf(of, answers.summary),
  };
  const named = value.name.toLowerCase() === label.name.toLowerCase() ? { ...value, name: `${value.name} 2` } : value;
  return {
    ...common,
    ...begins,
    kind,
    source: sourceWith(answers.source.id, [label, named]),
    label: label.id,
    value: value.id,
  };
}

/** The first place, row by row, that is free for a tile of the kind. */
export function freePlace(tiles: readonly Tile[], kind: Tile['kind']): Place {
  const { w, h } = tileKinds[kind].size;
  const bottom = Math.max(0, ...tiles.map(({ place }) => place.y + place.h));
  const isFree = (x: number, y: number): boolean =>
    tiles.every(({ place }) => x + w <= place.x || place.x + place.w <= x || y + h <= place.y || place.y + place.h <= y);
  for (let y = 0; y < bottom; y += 1) for (let x = 0; x + w <= gridColumns; x += 1) if (isFree(x, y)) return { x, y, w, h };
  return { x: 0, y: bottom, w, h };
}

export const editTile = (dashboard: Dashboard, tile: Tile): Dashboard => ({
  ...dashboard,
  tiles: dashboard.tiles.map((each) => (each.id === tile.id ? tile : each)),
});
export const withTile = (dashboard: Dashboard, tile: Tile): Dashboard => ({ ...dashboard, tiles: [...dashboard.tiles, tile] });
export const withoutTile = (dashboard: Dashboard, id: string): Dashboard => ({ ...dashboard, tiles: dashboard.tiles.filter((tile) => tile.id !== id) });

/** Tiles moved or resized together, as a drag leaves them. */
export function placed(dashboard: Dashboard, places: ReadonlyMap<string, Place>): Dashboard {
  const moved = dashboard.tiles.map((tile) => {
    const place = places.get(tile.id);
    const isSame = place === undefined || (place.x === tile.place.x && place.y === tile.place.y && place.w === tile.place.w && place.h === tile.place.h);
    return isSame ? tile : { ...tile, place };
  });
  return moved.every((tile, i) => tile === dashboard.tiles[i]) ? dashboard : { ...dashboard, tiles: moved };
}

/** The column of the tile's own rows, changed. */
export function editColumn(tile: Tile, id: string, part: Partial<QueryColumn>): Tile {
  if (!hasOwnColumns(tile.source)) return tile;
  return { ...tile, source: { ...tile.source, columns: tile.source.columns.map((column) => (column.id === id ? { ...column, ...part } : column)) } };
}

export const columnOf = (tile: Tile, design: AppDesign, id: string | null): QueryColumn | undefined =>
  questionOf(tile.source, design)?.columns.find((column) => column.id === id);
