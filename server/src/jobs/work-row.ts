/** Work beside requests that a row of the database stands for: any process can tell how far it is, and stop it by changing the row. */
import { randomUUID } from 'node:crypto';
import type { DataSource, EntityManager, EntitySchema } from 'typeorm';

/** How often a piece of work is begun whose server stopped while it was at it. */
export const mostAttempts = 3;
/** In milliseconds. */
const beatEvery = 400;

/** Raised when somebody asked to stop. */
export class Stopped extends Error {}

interface Worked {
  readonly id: string;
  readonly state: string;
  readonly facts: object;
}

interface RowAtWork {
  readonly rows: EntitySchema<Worked>;
  readonly id: string;
  /** The state of the row while it is worked on. */
  readonly during: string;
}

const isAtWork = `id = :id AND state = :during AND facts->>'attempt' = :attempt`;

/**
 * Begins an attempt: if a thread of an earlier one is still at work, it learns from this to stop.
 * @returns what the attempt is called; null when the row is no longer to be worked on
 */
export async function beginAttempt(database: DataSource, { rows, id, during }: RowAtWork): Promise<string | null> {
  const attempt = randomUUID();
  const { affected } = await database
    .createQueryBuilder()
    .update(rows)
    .set({ facts: () => `facts || jsonb_build_object('attempt', :attempt::text)` })
    .where('id = :id AND state = :during', { id, during, attempt })
    .execute();
  return affected === 0 ? null : attempt;
}

/** One attempt at the work of a row. */
export class Attempt {
  private part: number | null = 0;
  private isStopped = false;
  private readonly timer = setInterval(() => void this.beat().catch(() => undefined), beatEvery);

  constructor(
    private readonly database: DataSource,
    private readonly row: RowAtWork & { readonly attempt: string },
  ) {}

  private get place(): object {
    const { id, during, attempt } = this.row;
    return { id, during, attempt };
  }

  /** Writes how far it is, and learns from the same statement whether to go on. */
  private async beat(): Promise<void> {
    const { affected } = await this.database
      .createQueryBuilder()
      .update(this.row.rows)
      .set({ facts: () => `facts || jsonb_build_object('progress', :part::float8)` })
      .where(isAtWork, { ...this.place, part: this.part })
      .execute();
    if (affected === 0) this.isStopped = true;
  }

  /** @param part 0 to 1: how much is done; null where nobody knows. @throws Stopped */
  readonly progress = async (part: number | null): Promise<void> => {
    this.part = part;
    // Working in a tight loop would leave no room for the timer.
    await new Promise((resolve) => setImmediate(resolve));
    if (this.isStopped) throw new Stopped();
  };

  /** From one state to another, unless this attempt was stopped or another has begun. */
  async settle(state: string, facts: object, manager: EntityManager = this.database.manager): Promise<boolean> {
    const { affected } = await manager
      .createQueryBuilder()
      .update(this.row.rows)
      .set({ state, facts: () => 'facts || :facts::jsonb' })
      .where(isAtWork, { ...this.place, facts: JSON.stringify(facts) })
      .execute();
    return affected === 1;
  }

  end(): void {
    clearInterval(this.timer);
  }
}
