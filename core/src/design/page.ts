import { z } from 'zod';
import { Id } from '../shapes/shapes.js';

/** A screen of the Desk that a menu or a button can lead to. */
export const Page = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('list'), list: Id }).readonly(),
  /** The form with which a record is added. */
  z.object({ kind: z.literal('form'), form: Id }).readonly(),
  z.object({ kind: z.literal('query'), query: Id }).readonly(),
  z.object({ kind: z.literal('report'), report: Id }).readonly(),
  z.object({ kind: z.literal('dashboard'), dashboard: Id }).readonly(),
]);
export type Page = z.infer<typeof Page>;
