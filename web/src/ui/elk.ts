import Elk, { type ElkNode } from 'elkjs/lib/elk-api.js';
import ElkWorker from 'elkjs/lib/elk-worker.min.js?worker';

let elk: InstanceType<typeof Elk> | undefined;

/** Starts the worker ahead of the first graph. */
export const readyToLayOut = () => (elk ??= new Elk({ workerFactory: () => new ElkWorker() }));
/** Places the nodes of a graph and the lines between them, in a worker, because large graphs take seconds. */
export const layOutGraph = (graph: ElkNode): Promise<ElkNode> => readyToLayOut().layout(graph);
export type { ElkNode };
