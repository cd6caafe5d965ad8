/** Of all server processes on a database one has the lead: work that must not be done twice at a time is its alone. */
import type pg from 'pg';
import type { Notices } from './notices.js';

export class Lead {
  /** The connection that holds the lock: with it the lead is lost. */
  private leading: pg.Client | null = null;

  /** @param lock names what is led: a number of PostgreSQL's advisory locks */
  constructor(
    private readonly notices: Notices,
    private readonly lock: number,
  ) {}

  /** Whether this process has the lead: it keeps it until its connection ends, which PostgreSQL notices when the process is gone. */
  async has(): Promise<boolean> {
    const { connection } = this.notices;
    if (connection === null) return false;
    if (this.leading === connection) return true;
    try {
      const { rows } = await connection.query<{ got: boolean }>('SELECT pg_try_advisory_lock($1) AS got', [this.lock]);
      // The connection might have ended while it was asked.
      if (rows[0]?.got === true && this.notices.connection === connection) this.leading = connection;
    } catch {
      this.leading = null;
    }
    return this.leading !== null && this.leading === this.notices.connection;
  }
}
