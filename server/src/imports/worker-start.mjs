// A thread does not inherit the loader that reads TypeScript; it is registered here, before the thread's own code.
import { register } from 'tsx/esm/api';

register();
await import('./worker.ts');
