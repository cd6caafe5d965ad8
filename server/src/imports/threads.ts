/** The threads in which files are read and imported. Loading the code takes longer than reading a small file, so a thread is kept for a while. */
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import type { WorkerTask, WorkerWord } from './worker.js';

/** In milliseconds. */
const idleFor = 60_000;

/** The code of the thread: of the same build as this file. Sources are translated as they are loaded, unless tests have a build of them. */
function threadAt(): URL {
  if (!import.meta.url.endsWith('.ts')) return new URL('./imports/worker.js', import.meta.url);
  const built = process.env['SERVER_BUILD'];
  return built === undefined ? new URL('./worker-start.mjs', import.meta.url) : pathToFileURL(join(built, 'imports', 'worker.js'));
}

export class Threads {
  private readonly all = new Set<Worker>();
  /** Those that wait for another task. */
  private readonly idle = new Set<Worker>();
  private isClosed = false;

  /** Ends when the outcome of the task is in the database. @throws Error when its thread ended before that */
  do(task: WorkerTask): Promise<void> {
    if (this.isClosed) return Promise.reject(new Error('The server is stopping.'));
    const [thread = this.begin()] = this.idle;
    this.idle.delete(thread);
    return new Promise((resolve, reject) => {
      thread.on('message', (word: WorkerWord) => {
        resolve();
        if (word !== 'idle') return;
        thread.removeAllListeners('message').off('error', reject).off('exit', ended);
        this.rest(thread);
      });
      const ended = (): void => reject(new Error('The thread ended.'));
      thread.on('error', reject).on('exit', ended);
      thread.postMessage(task);
    });
  }

  private begin(): Worker {
    const thread = new Worker(threadAt(), { resourceLimits: { maxOldGenerationSizeMb: 1024, maxYoungGenerationSizeMb: 32 } });
    this.all.add(thread);
    // `do` gives the error to its caller.
    thread.on('error', () => undefined);
    thread.on('exit', () => {
      this.all.delete(thread);
      this.idle.delete(thread);
    });
    return thread;
  }

  private rest(thread: Worker): void {
    this.idle.add(thread);
    const letGo = (): void => {
      // One that is at work again is not among them.
      if (this.idle.delete(thread)) void thread.terminate();
    };
    setTimeout(letGo, idleFor).unref();
  }

  /** Stops what is at work; the transactions of the threads end with their connections. */
  async close(): Promise<void> {
    this.isClosed = true;
    await Promise.all([...this.all].map((thread) => thread.terminate()));
  }
}
