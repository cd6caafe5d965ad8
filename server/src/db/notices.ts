/**
 * The one connection of a process on which it hears what other processes tell (LISTEN). It comes back when it is lost: one at
 * a time, however it is lost.
 */
import pg from 'pg';

/** In milliseconds; doubled with each try up to the longest. */
const [firstPause, longestPause] = [1000, 15_000];

/** Called for each notice of a channel; without a payload when some might have been missed: whenever the connection is there again. */
export type Hear = (payload?: string) => void;

export class Notices {
  private client: pg.Client | null = null;
  private isClosed = false;
  private wake: () => void = () => undefined;
  private readonly work: Promise<void>;

  /** @param channels what is heard of each, by its name: a name of PostgreSQL, which is not quoted */
  constructor(
    private readonly url: string,
    private readonly channels: Readonly<Record<string, Hear>>,
  ) {
    this.work = this.listen();
  }

  /** The connection while it is there: what it holds, such as an advisory lock, is lost with it. */
  get connection(): pg.Client | null {
    return this.client;
  }

  private async listen(): Promise<void> {
    let pause = firstPause;
    while (!this.isClosed) {
      const client = new pg.Client({ connectionString: this.url, application_name: 'bibliona notices' });
      const lost = new Promise<void>((resolve) => {
        // A loss is told as an error, as an end, or as both; and closing wakes it too.
        client.on('error', () => resolve());
        client.on('end', () => resolve());
        this.wake = resolve;
      });
      client.on('notification', ({ channel, payload }) => this.channels[channel]?.(payload));
      try {
        await client.connect();
        await client.query(
          Object.keys(this.channels)
            .map((channel) => `LISTEN ${channel}`)
            .join('; '),
        );
        this.client = client;
        pause = firstPause;
        for (const hear of Object.values(this.channels)) hear();
        await lost;
      } catch {
        // The database is not there yet, or no longer: the next try comes after a pause.
      }
      this.client = null;
      await client.end().catch(() => undefined);
      if (this.isClosed) return;
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
