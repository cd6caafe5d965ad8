import Elk, { type ElkNode } from 'elkjs/lib/elk-api.js';
import { keep } from '../state/kept.js';
import { readLayouts, startElk, type Layouts } from './elk-worker.js';

let elk: InstanceType<typeof Elk> | undefined;

/** In characters, of all texts. */
const most = 400_000;

/**
 * Places the nodes of a graph and the lines between them, in a worker, because large graphs take seconds. Who comes back to one
 * doesn't wait for it again.
 */
export async function layOutGraph(graph: ElkNode): Promise<ElkNode> {
  const text = JSON.stringify(graph);
  const known = readLayouts()?.laidOut.find(([before]) => before === text);
  if (known !== undefined) return JSON.parse(known[1]) as ElkNode;
  const laidOut = await (elk ??= new Elk({ workerFactory: startElk })).layout(graph);
  let room = most;
  // Another graph may have been laid out meanwhile, so what is kept is read again.
  const all = [[text, JSON.stringify(laidOut)] as const, ...(readLayouts()?.laidOut ?? [])];
  keep<Layouts>('layouts', { at: Date.now(), laidOut: all.filter(([before, after]) => (room -= before.length + after.length) > 0) });
  return laidOut;
}
export type { ElkNode };
