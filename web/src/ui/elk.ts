import Elk, { type ElkNode } from 'elkjs/lib/elk-api.js';
import { startElk } from './elk-worker.js';

let elk: InstanceType<typeof Elk> | undefined;

/** Places the nodes of a graph and the lines between them, in a worker, because large graphs take seconds. */
export const layOutGraph = (graph: ElkNode): Promise<ElkNode> => (elk ??= new Elk({ workerFactory: startElk })).layout(graph);
export type { ElkNode };
