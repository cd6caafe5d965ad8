/** What builders are told of each kind of tile, and how it begins. How it is drawn is in `ui/tiles/kinds.ts`. */
import type { Chart, Tile, TileOf } from '@bibliona/core';

interface TileChoice {
  /** What it is called above its settings. */
  readonly name: string;
  /** What it is called where it is chosen. */
  readonly choice: string;
  /** Its size on the grid. */
  readonly size: Pick<Tile['place'], 'w' | 'h'>;
}
interface ChartChoice extends TileChoice {
  /** What it is called among the ways to draw the same points. */
  readonly way: string;
  readonly begins: Pick<Chart, 'order' | 'most'>;
}

export const tileKinds: { readonly [K in Tile['kind']]: TileOf<K> extends Chart ? ChartChoice : TileChoice } = {
  figure: { name: 'Figure', choice: 'one figure', size: { w: 3, h: 5 } },
  bars: { name: 'Bars', choice: 'bars, side by side', way: 'bars', size: { w: 4, h: 9 }, begins: { order: 'value', most: 12 } },
  line: { name: 'Line', choice: 'a line over time or numbers', way: 'a line', size: { w: 8, h: 9 }, begins: { order: 'label', most: 100 } },
};

export const tileNames = Object.keys(tileKinds) as readonly Tile['kind'][];
export const isChartName = (kind: Tile['kind']): kind is Chart['kind'] => 'begins' in tileKinds[kind];
