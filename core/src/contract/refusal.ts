/** Why a request was not done, as every route says it. */
import { z } from 'zod';
import { StepAnswer } from './apps.js';
import { Conflict } from './records.js';

/** One problem at one place: of a body, of a write (its index) and of a field. */
export const PlacedIssue = z.object({
  write: z.number().optional(),
  field: z.string().optional(),
  path: z.string().optional(),
  /** Of a change of design: what is wrong, and with what; see `DesignIssue`. */
  code: z.string().optional(),
  what: z.string().optional(),
  message: z.string(),
});
export type PlacedIssue = z.infer<typeof PlacedIssue>;

const common = { message: z.string(), issues: z.array(PlacedIssue).default([]) };
/** What the migration of a change of design would do. */
const steps = z.object({ steps: z.array(StepAnswer).readonly() }).optional();

/** The codes that carry nothing but a sentence and places. */
const plainCodes = ['bad_request', 'not_signed_in', 'wrong_sign_in', 'forbidden', 'not_found', 'stale_design', 'too_large', 'too_many', 'unavailable'] as const;
export const RefusalAnswer = z.discriminatedUnion('code', [
  z.object({ ...common, code: z.enum(plainCodes), details: z.undefined().optional() }),
  /** What is in the database now. */
  z.object({ ...common, code: z.literal('conflict'), details: z.array(Conflict).min(1) }),
  z.object({ ...common, code: z.literal('needs_consent'), details: steps }),
  z.object({ ...common, code: z.literal('invalid'), details: steps }),
]);
export type RefusalAnswer = z.infer<typeof RefusalAnswer>;
export type RefusalCode = RefusalAnswer['code'];
export type RefusalDetails<C extends RefusalCode> = C extends 'conflict' | 'needs_consent' | 'invalid'
  ? Extract<RefusalAnswer, { code: C }>['details']
  : undefined;
