/** Dashboards as a design keeps them: tiles on a grid, each drawn from rows. */
import { z } from 'zod';
import { Description, Id, Label } from '../shapes/shapes.js';
import { Published } from './published.js';
import { RowSource, summaries } from './saved-query.js';

/** Columns of the grid on which tiles stand. */
export const gridColumns = 12;

const Place = z
  .object({
    x: z
      .number()
      .int()
      .min(0)
      .max(gridColumns - 1),
    y: z.number().int().min(0).max(1000),
    w: z.number().int().min(2).max(gridColumns),
    h: z.number().int().min(2).max(30),
  })
  .readonly();

/** What is thought of a number: from where it is fair, from where good, and whether more or less of it is better. */
const Judgement = z
  .object({ better: z.enum(['higher', 'lower']), fairFrom: z.number().finite(), goodFrom: z.number().finite() })
  .refine((each) => (each.better === 'higher' ? each.fairFrom <= each.goodFrom : each.fairFrom >= each.goodFrom), {
    message: 'good has to begin beyond fair, on the side that is better',
  })
  .readonly();
export type Judgement = z.infer<typeof Judgement>;

const common = {
  id: Id,
  name: Label,
  place: Place,
  source: RowSource,
  /** Anyone who knows its address can see it; absent: only people of the app. */
  public: Published.optional(),
};
const chart = {
  ...common,
  /** The column by which the points are called, and the one that says how much. */
  label: Id,
  value: Id,
  order: z.enum(['label', 'value']).default('label'),
  /** No more points than these, the first in the order. */
  most: z.number().int().min(2).max(100).default(24),
};

export const Tile = z.discriminatedUnion('kind', [
  z
    .object({
      kind: z.literal('figure'),
      ...common,
      /** Null: the rows themselves, which are counted. */
      column: Id.nullable(),
      summary: z.enum(summaries),
      target: z.number().finite().nullable().default(null),
      judgement: Judgement.nullable().default(null),
    })
    .readonly(),
  z.object({ kind: z.literal('bars'), ...chart }).readonly(),
  z.object({ kind: z.literal('line'), ...chart }).readonly(),
]);
export type Tile = z.infer<typeof Tile>;
export type TileOf<K extends Tile['kind']> = Extract<Tile, { kind: K }>;
/** A tile with a point for each value of a column. */
export type Chart = Extract<Tile, { label: string }>;

/** What a kind of tile reads. The other tables of kinds of tile say how it is drawn and how it is set up. */
interface TileKind<T> {
  /** The columns of its rows that it shows. */
  readonly columns: (tile: T) => readonly string[];
  /** The column by which its points are called; null: it is one figure, made of all rows. */
  readonly label: (tile: T) => string | null;
}

const chartKind: TileKind<Chart> = { columns: (tile) => [tile.label, tile.value], label: (tile) => tile.label };

const tileKinds: { readonly [K in Tile['kind']]: TileKind<TileOf<K>> } = {
  figure: { columns: (tile) => (tile.column === null ? [] : [tile.column]), label: () => null },
  bars: chartKind,
  line: chartKind,
};

const kindOfTile = (tile: Tile): TileKind<Tile> => tileKinds[tile.kind] as TileKind<Tile>;
export const columnsOfTile = (tile: Tile): readonly string[] => kindOfTile(tile).columns(tile);
export const labelOfTile = (tile: Tile): string | null => kindOfTile(tile).label(tile);
export const isChart = (tile: Tile): tile is Chart => 'label' in tile;

export const Dashboard = z
  .object({ id: Id, name: Label, description: Description, section: z.string().max(60).default(''), tiles: z.array(Tile).max(40).readonly() })
  .readonly();
export type Dashboard = z.infer<typeof Dashboard>;
