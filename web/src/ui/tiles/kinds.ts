/** How each kind of chart is drawn. Its settings are in the Workshop, what it reads in core. */
import type { Chart } from '@bibliona/core';
import type { ComponentType } from 'react';
import { BarsView } from './BarsView.js';
import { LineView } from './LineView.js';
import type { Point, Series } from './point-words.js';

export interface ChartProps {
  readonly answer: Series;
  /** What a press on a point does. */
  readonly onPoint?: ((point: Point) => void) | undefined;
}

export const chartViews: Readonly<Record<Chart['kind'], ComponentType<ChartProps>>> = { bars: BarsView, line: LineView };
