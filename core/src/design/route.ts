/** Routes as a design keeps them: the way of a table's records through the choices of one of its fields. */
import { z } from 'zod';
import { Description, Expression, Id, Label } from '../shapes/shapes.js';

export const statusKinds = ['start', 'work', 'wait', 'done', 'ended'] as const;
export type StatusKind = (typeof statusKinds)[number];

const ChoiceId = z.string().regex(/^[a-z0-9][a-z0-9_]{0,59}$/);

export const Move = z
  .object({
    id: Id,
    /** What is done: "Send to the lab". */
    name: Label,
    from: ChoiceId,
    to: ChoiceId,
    /** Who can make it, besides those who build the app. */
    roles: z.array(Id).max(100).readonly(),
    /** Only for records that meet it; empty: for all. */
    guard: Expression.default(''),
    /** `should`: a record that can take it waits for those who can make it. `may`: it is nobody's duty. */
    duty: z.enum(['should', 'may']).default('should'),
  })
  .readonly();
export type Move = z.infer<typeof Move>;

export const Route = z
  .object({
    id: Id,
    name: Label,
    description: Description,
    section: z.string().max(60).default(''),
    table: Id,
    /** The field of choices that is the status: it changes by moves alone. */
    field: Id,
    /** What each choice means on the way; a choice that is not named is work. */
    statuses: z
      .array(z.object({ choice: ChoiceId, kind: z.enum(statusKinds) }).readonly())
      .max(200)
      .readonly(),
    moves: z.array(Move).max(400).readonly(),
  })
  .readonly();
export type Route = z.infer<typeof Route>;
