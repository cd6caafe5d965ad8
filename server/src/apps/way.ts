/** The way from one design of an app to another: the questions asked of the records first, and the changes to the database. */
import {
  difference,
  Impossible,
  literal,
  rearranged,
  Rearrangement,
  type AppDesign,
  type SetAside,
  type Migration,
  type MigrationStep,
  type Person,
  type PreparedColumn,
  type PreparedMoves,
  type Renumbering,
  type StepAnswer,
} from '@bibliona/core';
import type { EntityManager, QueryRunner } from 'typeorm';
import { z } from 'zod';
import { KeptParts, type AppRow } from '../db/entities.js';
import { Refusal } from '../http/refusal.js';
import { askProbes } from './probes.js';

export const keptSchemaOf = (schema: string): string => `${schema}_kept`;
/** Where SQL clients find the tables under today's labels. */
export const viewSchemaOf = (schema: string): string => `${schema}_views`;

/** A rearrangement as a version keeps it. `since`: when the values first went, as PostgreSQL prints it. */
export const KeptRearrangement = z.object({ plan: Rearrangement, since: z.string() });
export type KeptRearrangement = z.infer<typeof KeptRearrangement>;

export interface Way {
  readonly before: AppDesign;
  readonly after: AppDesign;
  /** The values that are moved on the way, in a design that has the old parts and the new ones; null: none are. */
  readonly over: {
    readonly between: AppDesign;
    readonly moves: readonly MigrationStep[];
    /** Where many values change. */ readonly tables: readonly string[];
    readonly renumbers: Renumbering | null;
    /** What can be made ready before the tables are changed. */
    readonly prepares: PreparedMoves | null;
  } | null;
}

/** The way there. @throws Refusal invalid with the reason */
export function wayThere(before: AppDesign, plan: Rearrangement, schema: string): Way & { readonly description: string } {
  try {
    const { between, after, description, moves, tables, prepares } = rearranged(before, plan, schema);
    const over = { between, moves: moves.there, tables, renumbers: moves.renumbers?.there ?? null, prepares: prepares(keptSchemaOf(schema)) };
    return { before, after, description, over };
  } catch (error) {
    if (error instanceof Impossible) throw new Refusal('invalid', error.message);
    throw error;
  }
}

/** The way back to the design that was rearranged. */
export function wayBack(before: AppDesign, after: AppDesign, rearrangement: KeptRearrangement, schema: string): Way {
  try {
    const { between, moves, tables } = rearranged(after, rearrangement.plan, schema);
    const back = moves.back(`${literal(rearrangement.since)}::timestamptz`);
    return { before, after, over: { between, moves: back, tables, renumbers: moves.renumbers?.back ?? null, prepares: null } };
  } catch (error) {
    // A plan of an earlier version of the product that is not understood now: values come back as they were set aside.
    if (error instanceof Impossible) return { before, after, over: null };
    throw error;
  }
}

/** What it would do to records, without doing it. */
export async function askWay(manager: EntityManager, runner: QueryRunner, app: AppRow, way: Way, person: Person): Promise<readonly StepAnswer[]> {
  const steps = way.over?.moves ?? (await migrationOf(manager, app, way.before, way.after)).steps;
  return askProbes(runner, steps, { schema: app.schema, design: way.before }, person);
}

/** @throws Refusal invalid when the records do not allow it, needs_consent when values would be lost and nobody has agreed to that */
export async function checkWay(manager: EntityManager, runner: QueryRunner, app: AppRow, way: Way, person: Person, acceptLoss: boolean): Promise<void> {
  const steps = [...(await askWay(manager, runner, app, way, person))];
  const blocked = steps.filter((step) => step.blocks);
  if (blocked.length > 0) throw new Refusal('invalid', blocked.map((step) => step.found).join(' '), [], { steps });
  const losses = steps.filter((step) => step.effect === 'loses' && step.found !== null);
  if (losses.length > 0 && !acceptLoss) throw new Refusal('needs_consent', losses.map((step) => step.found).join(' '), [], { steps });
}

/** What earlier changes set aside, the newest first. */
export async function setAsideOf(manager: EntityManager, app: AppRow): Promise<readonly SetAside[]> {
  const rows = await manager.createQueryBuilder(KeptParts, 'kept').where('kept.app_id = :id', { id: app.id }).orderBy('kept.at', 'DESC').getMany();
  return rows.map((row) => row.what as SetAside);
}

/** @param prepared the columns that are there already */
export async function migrationOf(
  manager: EntityManager,
  app: AppRow,
  before: AppDesign,
  after: AppDesign,
  prepared: readonly PreparedColumn[] = [],
): Promise<Migration> {
  const setAside = await setAsideOf(manager, app);
  return difference(before, after, {
    schema: app.schema,
    keptSchema: keptSchemaOf(app.schema),
    stamp: `v${app.version + 1}`,
    setAside,
    prepared: new Set(prepared.map(({ field }) => field)),
  });
}
