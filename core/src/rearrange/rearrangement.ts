/**
 * Changes of a design that take the values of records along: a text becomes a table, a field moves to the table that a
 * reference leads to, one parent becomes several. Each is a way over a design in between, in which what comes and what
 * goes both stand: there the values go over, and back again when it is undone.
 */
import type { AppDesign } from '../design/design.js';
import type { MigrationStep } from '../migration/migration.js';
import type { UncheckedDesign } from '../parts/part.js';

/** What values do in the design in between. Their probes are asked in the design that stands before. */
export interface ValueMoves {
  readonly there: readonly MigrationStep[];
  /** @param since when they went there, as an SQL expression: records made later were never without the change */
  readonly back: (since: string) => readonly MigrationStep[];
}

/** One kind of such change. `kinds.ts` collects them. */
export interface RearrangementKind<P> {
  /** Why it can't be done with this design, as a sentence; null: it can. */
  readonly problem: (plan: P, design: AppDesign) => string | null;
  /** What the history of the design says of it. */
  readonly says: (plan: P, design: AppDesign) => string;
  /** The design with what comes. @throws Impossible */
  readonly between: (plan: P, design: AppDesign) => AppDesign;
  /** The fields that are not held to their rules in between. */
  readonly loose: (plan: P, design: AppDesign) => readonly string[];
  /** The tables in which many values change. */
  readonly tables: (plan: P, design: AppDesign) => readonly string[];
  /** What becomes of the design in between. Its names and expressions are checked afterwards. @throws Impossible */
  readonly after: (plan: P, design: AppDesign, between: AppDesign) => UncheckedDesign;
  readonly moves: (plan: P, design: AppDesign, between: AppDesign, schema: string) => ValueMoves;
}

/** Raised while a design is rearranged; its message is a sentence for the builder. */
export class Impossible extends Error {}
