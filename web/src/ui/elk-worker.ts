import ElkWorker from 'elkjs/lib/elk-worker.min.js?worker';

let worker: Worker | undefined;

/** Starts what lays out graphs, ahead of the first one. */
export const startElk = (): Worker => (worker ??= new ElkWorker());
