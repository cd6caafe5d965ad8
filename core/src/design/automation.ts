/** Automations as a design keeps them: what triggers them, when, and what they do then. */
import { z } from 'zod';
import { Description, Expression, Id, Label } from '../shapes/shapes.js';

/** A text with expressions in braces: see `expression/merge-text.ts`. */
const MergeText = z.string().max(20_000, 'is longer than 20,000 characters');

/** What a step puts into a field. */
export const StepValue = z
  .object({
    field: Id,
    /** Of a reference: the record itself that set the automation off; then there is no expression. */
    itself: z.boolean().default(false),
    expression: Expression.default(''),
  })
  .readonly();
export type StepValue = z.infer<typeof StepValue>;

export const Recipient = z.discriminatedUnion('kind', [
  /** Everyone of the app who has the role, each by a mail of their own. */
  z.object({ kind: z.literal('role'), role: Id }).readonly(),
  /** A text with one address, or several with commas between them. */
  z.object({ kind: z.literal('address'), expression: Expression }).readonly(),
]);
export type Recipient = z.infer<typeof Recipient>;

const Values = z.array(StepValue).max(100).readonly();

/** One thing that an automation does. Its expressions speak of the record that triggered it, as it is then. */
export const Step = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('change'), id: Id, values: Values }).readonly(),
  z.object({ kind: z.literal('add'), id: Id, table: Id, values: Values }).readonly(),
  z.object({ kind: z.literal('mail'), id: Id, to: Recipient, subject: MergeText, body: MergeText }).readonly(),
]);
export type Step = z.infer<typeof Step>;
export type StepOf<K extends Step['kind']> = Extract<Step, { kind: K }>;

export const triggers = ['added', 'changed', 'moved', 'started'] as const;

export const Automation = z
  .object({
    id: Id,
    name: Label,
    description: Description,
    section: z.string().max(60).default(''),
    /** Off: it stays in the design and does nothing. */
    isOn: z.boolean().default(true),
    /** Whose records trigger it. */
    table: Id,
    on: z.enum(triggers),
    /** For `changed`: only when one of these fields has another value; empty: any. */
    fields: z.array(Id).max(100).readonly().default([]),
    /** For `moved`: only by one of these moves; empty: any. */
    moves: z.array(Id).max(400).readonly().default([]),
    /** For `started`: the roles of those who can start it; absent: everyone who sees the record. */
    startedBy: z.array(Id).min(1).max(100).readonly().optional(),
    /** Only for records that meet it; empty: for all. */
    condition: Expression.default(''),
    steps: z.array(Step).max(20).readonly(),
  })
  .readonly();
export type Automation = z.infer<typeof Automation>;

/** The table whose records a step writes; null: it writes none. */
export function tableWritten(automation: Pick<Automation, 'table'>, step: Step): string | null {
  switch (step.kind) {
    case 'change':
      return automation.table;
    case 'add':
      return step.table;
    case 'mail':
      return null;
    default:
      return step satisfies never;
  }
}
