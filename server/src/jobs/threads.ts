/** The threads in which files are read, imported and made. Loading the code takes longer than reading a small file, so a thread is kept for a while. */
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { parentPort, Worker } from 'node:worker_threads';

/** In milliseconds. */
const idleFor = 60_000;

/** The code of threads, by its place below the folder of sources. */
export type ThreadCode = 'imports/worker' | 'made-files/worker';

/** The code of a thread: of the same build as this file. Sources are translated as they are loaded, unless tests have a build of them. */
function threadAt(code: ThreadCode): URL {
  if (!import.meta.url.endsWith('.ts')) return new URL(`./${code}.js`, import.meta.url);
  const built = process.env['SERVER_BUILD'];
  return built === undefined ? new URL('./thread-start.mjs', import.meta.url) : pathToFileURL(join(built, `${code}.js`));
}

/** What a thread says of itself: that the outcome is in the database; that it can take another task. */
type ThreadWord = 'settled' | 'idle';

/** Begins to take tasks, within a thread. @param work settles a task, and then closes what it has opened */
export function takeTasks<Task>(work: (task: Task, settled: () => void) => Promise<void>): void {
  const say = (word: ThreadWord): void => parentPort?.postMessage(word);
  parentPort?.on('message', (task: Task) => void work(task, () => say('settled')).then(() => say('idle')));
}

export class Threads<Task> {
  private readonly all = new Set<Worker>();
  /** Those that wait for another task. */
  private readonly idle = new Set<Worker>();
  private isClosed = false;

  constructor(private readonly code: ThreadCode) {}

  /** Ends when the outcome of the task is in the database. @throws Error when its thread ended before that */
  do(task: Task): Promise<void> {
    if (this.isClosed) return Promise.reject(new Error('The server is stopping.'));
    const [thread = this.begin()] = this.idle;
    this.idle.delete(thread);
    return new Promise((resolve, reject) => {
      thread.on('message', (word: ThreadWord) => {
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
    const thread = new Worker(threadAt(this.code), {
      workerData: { code: this.code },
      resourceLimits: { maxOldGenerationSizeMb: 1024, maxYoungGenerationSizeMb: 32 },
    });
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
