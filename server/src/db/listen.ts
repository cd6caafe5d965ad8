/** A connection of its own that listens to a channel and comes back when it is lost: one at a time, however it is lost. */
import pg from 'pg';

/** In milliseconds; doubled with each try up to the longest. */
const [firstPause, longestPause] = [1000, 15_000];

export interface ListenerOptions {
  readonly url: string;
  readonly channel: string;
  /** Called for each announcement, and when some might have been missed: at the start and after each loss. */
  readonly onHeard: (payload?: string) => void;
}

export class Listener {
  private client: pg.Client | null = null;
  private isClosed = false;
  private wake: () => void = () => undefined;
  private readonly work: Promise<void>;

  constructor(private readonly options: ListenerOptions) {
    this.work = this.listen();
  }

  /** The connection while it stands: what it holds, such as an advisory lock, is lost with it. */
  get connection(): pg.Client | null {
    return this.client;
  }

  private async listen(): Promise<void> {
    let pause = firstPause;
    while (!this.isClosed) {
      const client = new pg.Client({ connectionString: this.options.url, application_name: 'bibliona' });
      const lost = new Promise<void>((resolve) => {
        // A loss is told as an error, as an end, or as both; and closing wakes it too.
        client.on('error', () => resolve());
        client.on('end', () => resolve());
        this.wake = resolve;
      });
      client.on('notification', ({ payload }) => this.options.onHeard(payload));
      try {
        await client.connect();
        await client.query(`LISTEN ${this.options.channel}`);
        this.client = client;
        pause = firstPause;
        this.options.onHeard();
        await lost;
      } catch {
        // The database is not there yet, or not any more: the next try comes after a pause.
      }
      this.client = null;
      await client.end().catch(() => undefined);
      if (this.isClosed) return;
      this.options.onHeard();
      await new Promise<void>((resolve) => {
        this.wake = resolve;
        setTimeout(resolve, pause).unref();
      });
      pause = Math.min(pause * 2, longestPause);
    }
  }

  async close(): Promise<void> {
    this.isClosed = true;
    this.wake();
    await this.work;
  }
}
