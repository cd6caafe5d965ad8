/** Of all server processes on a database one has the lead: work that must not be done twice at a time is its alone. */
import pg from 'pg';

const againAfter = 1000;

export class Lead {
  private client: pg.Client | null = null;
  private hasLead = false;
  private isClosed = false;

  /**
   * @param lock names what is led: a number of PostgreSQL's advisory locks
   * @param channel `onHeard` is called for each announcement on it, and when the lead may have become free
   */
  constructor(private readonly options: { readonly url: string; readonly lock: number; readonly channel: string; readonly onHeard: () => void }) {
    void this.open();
  }

  private async open(): Promise<void> {
    const { url, channel, onHeard } = this.options;
    const client = new pg.Client({ connectionString: url, application_name: 'bibliona' });
    const again = (): void => {
      this.client = null;
      this.hasLead = false;
      if (!this.isClosed) setTimeout(() => void this.open(), againAfter).unref();
    };
    client.on('error', again);
    client.on('notification', onHeard);
    try {
      await client.connect();
      await client.query(`LISTEN ${channel}`);
      this.client = client;
      onHeard();
    } catch {
      again();
    }
  }

  /** Whether this process has the lead: it keeps it until its connection ends, which PostgreSQL notices when the process is gone. */
  async has(): Promise<boolean> {
    const { client } = this;
    if (client === null || this.hasLead) return this.hasLead;
    try {
      const { rows } = await client.query<{ got: boolean }>('SELECT pg_try_advisory_lock($1) AS got', [this.options.lock]);
      // The connection may have ended while it was asked.
      this.hasLead = rows[0]?.got === true && this.client === client;
    } catch {
      this.hasLead = false;
    }
    return this.hasLead;
  }

  async close(): Promise<void> {
    this.isClosed = true;
    await this.client?.end().catch(() => undefined);
    this.client = null;
    this.hasLead = false;
  }
}
