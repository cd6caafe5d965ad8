import ElkWorker from 'elkjs/lib/elk-worker.min.js?worker';
import { readKept } from '../state/kept.js';

/** What was laid out last, newest first, as texts: a graph, and the same graph laid out. */
export interface Layouts {
  readonly at: number;
  readonly laidOut: readonly (readonly [before: string, after: string])[];
}
export const readLayouts = (): Layouts | null => readKept<Layouts>('layouts');

let worker: Worker | undefined;

/** Starts what lays out graphs. */
export const startElk = (): Worker => (worker ??= new ElkWorker());

/** Ahead of the first graph, where this browser has none that is laid out already. */
export function startElkAhead(): void {
  if (readLayouts() === null) startElk();
}
