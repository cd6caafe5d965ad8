// A thread does not inherit the loader that reads TypeScript; it is registered here, before the thread's own code.
import { workerData } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
await import(`../${workerData.code}.ts`);
