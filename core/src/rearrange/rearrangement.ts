/**
 * Changes of a design that also move the values of records: a text becomes a table, a field moves to the table that a
 * reference leads to, one parent becomes several. Each is done in two steps, with a design in between that has the old parts
 * and the new ones. The values are moved there, and moved back there when the change is undone.
 */
import type { AppDesign } from '../design/design.js';
import type { MigrationStep } from '../migration/migration.js';
import type { PreparedColumn } from '../migration/prepared.js';
import type { UncheckedDesign } from '../parts/part.js';

/** The steps that move values in the design in between. Their probes are asked before it, in the design as it is. */
export interface ValueMoves {
  readonly there: readonly MigrationStep[];
  /** @param since when the values were moved, as an SQL expression: records made later never had values in the old place */
  readonly back: (since: string) => readonly MigrationStep[];
  /** Set when records get another table and number on the way there, and their old ones on the way back. */
  readonly renumbers?: { readonly there: Renumbering; readonly back: Renumbering };
}

/** Records of a table that become those of another one: what people said of them goes along, and what happened to them. */
export interface Renumbering {
  readonly from: string;
  readonly to: string;
  /** SQL in the design in between, once values have been moved: the numbers `was` and `becomes` of each. */
  readonly pairs: string;
  /** SQL that moves the lines of the history, over these pairs as the table `renumbered`. */
  readonly history: readonly string[];
}

/** A column that can be filled before values move. `there`: the SQL of the moves where it was, in the design in between. */
export interface PreparedMoves {
  readonly column: PreparedColumn;
  readonly there: readonly string[];
}

/** One kind of such change. `rearranged.ts` collects them. */
export interface RearrangementKind<P> {
  /** Why it can't be done with this design, as a sentence; null: it can. */
  readonly problem: (plan: P, design: AppDesign) => string | null;
  /** What the history of the design says of it. */
  readonly describe: (plan: P, design: AppDesign) => string;
  /** The design with the new parts added, and the old ones still there. @throws Impossible */
  readonly between: (plan: P, design: AppDesign) => AppDesign;
  /** The fields whose rules do not hold in between. */
  readonly loose: (plan: P, design: AppDesign) => readonly string[];
  /** The tables in which many values change. */
  readonly tables: (plan: P, design: AppDesign) => readonly string[];
  /** What becomes of the design in between. Its names and expressions are checked afterwards. @throws Impossible */
  readonly after: (plan: P, design: AppDesign, between: AppDesign) => UncheckedDesign;
  readonly moves: (plan: P, design: AppDesign, between: AppDesign, schema: string) => ValueMoves;
  /** What can be made ready on the way there. */
  readonly prepares?: (plan: P, design: AppDesign, between: AppDesign, place: { readonly schema: string; readonly keptSchema: string }) => PreparedMoves;
}

/** Raised while a design is rearranged; its message is a sentence for the builder. */
export class Impossible extends Error {}
