/** The kinds of rearrangement, and what comes of one. A new kind is a file beside this one, its shape in `plans.ts`, and a row here. */
import type { AppDesign, Field } from '../design/design.js';
import { NotInDesign } from '../design/read.js';
import { expressionIssues, structureIssues } from '../parts/check-design.js';
import { fieldToTable } from './field-to-table.js';
import { mergeTables } from './merge-tables.js';
import { moveFields } from './move-fields.js';
import type { Rearrangement } from './plans.js';
import { Impossible, type PreparedMoves, type RearrangementKind, type ValueMoves } from './rearrangement.js';
import { oneParent, severalParents } from './several-parents.js';
import { toldIssues } from './tools.js';

const kinds: { readonly [K in Rearrangement['kind']]: RearrangementKind<Extract<Rearrangement, { kind: K }>> } = {
  field_to_table: fieldToTable,
  move_fields: moveFields,
  several_parents: severalParents,
  one_parent: oneParent,
  merge_tables: mergeTables,
};

export interface Rearranged {
  /** Has the old parts and the new ones, without the rules that would stop values from being moved. */
  readonly between: AppDesign;
  readonly after: AppDesign;
  readonly description: string;
  readonly moves: ValueMoves;
  /** What can be made ready on the way there, while people go on working. */
  readonly prepares: (keptSchema: string) => PreparedMoves | null;
  /** The tables in which many values change. Their indexes are made afterwards, which is faster. */
  readonly tables: readonly string[];
}

/** @throws Impossible with a sentence that says why, and what to do first */
export function rearranged(design: AppDesign, plan: Rearrangement, schema: string): Rearranged {
  const kind = kinds[plan.kind] as unknown as RearrangementKind<Rearrangement>;
  try {
    const problem = kind.problem(plan, design);
    if (problem !== null) throw new Impossible(problem);
    const between = kind.between(plan, design);
    const after = kind.after(plan, design, between) as AppDesign;
    const structure = structureIssues(after);
    const issues = structure.length > 0 ? structure : expressionIssues(after);
    if (issues.length > 0) throw new Impossible(toldIssues(issues));
    const loose = new Set(kind.loose(plan, design));
    return {
      between: loosened(between, loose),
      after,
      description: kind.describe(plan, design),
      moves: kind.moves(plan, design, between, schema),
      prepares: (keptSchema) => kind.prepares?.(plan, design, between, { schema, keptSchema }) ?? null,
      tables: kind.tables(plan, design),
    };
  } catch (error) {
    if (error instanceof NotInDesign) throw new Impossible('This part of the app was removed in the meantime. Start again.');
    throw error;
  }
}

/**
 * The design without the rules of some fields: while values are moved, records can lack them. Their foreign keys are left out
 * too: checking all records once at the end is many times faster than checking each as it changes.
 */
const loosened = (design: AppDesign, loose: ReadonlySet<string>): AppDesign => ({
  ...design,
  relationships: design.relationships.filter((relationship) => !loose.has(relationship.field)),
  tables: design.tables.map((table) =>
    table.fields.some((field) => loose.has(field.id))
      ? {
          ...table,
          fields: table.fields.map((field) => (loose.has(field.id) ? ({ ...field, required: false, unique: false } as Field) : field)),
          uniqueTogether: table.uniqueTogether.filter((each) => !each.fields.some((id) => loose.has(id))),
        }
      : table,
  ),
});
