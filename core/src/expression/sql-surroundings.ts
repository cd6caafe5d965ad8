import type { AppDesign, Field, TableId } from '../design/design.js';
import type { SqlBuilder } from '../sql/sql.js';

/** What a statement offers to the expressions in it. */
export interface SqlSurroundings {
  readonly builder: SqlBuilder;
  readonly design: AppDesign;
  readonly me: { readonly Name: string; readonly Mail: string; readonly Roles: readonly string[] };
  /** The number of the person. */
  readonly person?: number;
  /** The records that the person is tied to, by the id of the tie. */
  readonly ties?: Readonly<Record<string, number>>;
  readonly now: number;
  readonly zone: string;
  /** Whether every record of every table is visible: then a reference need not be followed to be compared. */
  readonly seesAll?: boolean;
  /** Whether a field may be seen: always, never, or in some records; then a column of the visible table tells in which. */
  readonly sight?: (table: TableId, field: Field) => 'always' | 'never' | { readonly column: string };
  /** The records of a table that the person can see, as what can be behind FROM. */
  readonly visible: (table: TableId) => string;
  /** Begins the aliases of this statement's expressions; differs from all others in it. */
  readonly prefix: string;
}
