/** How lists are drawn, besides the grid. */
import type { ArrangementKind, List, Selection, Table } from '@bibliona/core';
import { lazy, type ComponentType } from 'react';
import type { Done } from './JustDone.js';

export interface ArrangedProps {
  readonly table: Table;
  readonly list: List;
  readonly selection: Selection;
  /** Where several records can be chosen to do something with them; absent: there is no place for that. */
  readonly choosing?: {
    /** How many records there are, as far as that is known. */
    readonly count: number;
    /** Called with what a save has done to several records. */
    readonly onDone: (done: Done) => void;
  };
}

type Arranged = ComponentType<ArrangedProps>;

// Most lists are grids: what draws the others is loaded where there is one.
export const GroupedRows: Arranged = lazy(() => import('./GroupedRows.js').then((module) => ({ default: module.GroupedRows })));
/** Null: the grid, which has its rows in another way. */
export const arrangements = {
  grid: null,
  cards: lazy(() => import('./Cards.js').then((module) => ({ default: module.Cards }))),
  board: lazy(() => import('./Board.js').then((module) => ({ default: module.Board }))),
  calendar: lazy(() => import('./Calendar.js').then((module) => ({ default: module.Calendar }))),
  timeline: lazy(() => import('./Timeline.js').then((module) => ({ default: module.Timeline }))),
  chart: lazy(() => import('./ListChart.js').then((module) => ({ default: module.ListChart }))),
  map: lazy(() => import('./MapOfRecords.js').then((module) => ({ default: module.MapOfRecords }))),
} as const satisfies Record<ArrangementKind, Arranged | null>;
