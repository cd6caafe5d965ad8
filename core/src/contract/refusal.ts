/** Why a request was not done, as every route says it. */
import { z } from 'zod';

export const RefusalCode = z.enum([
  'bad_request',
  'not_signed_in',
  'wrong_sign_in',
  'forbidden',
  'not_found',
  'stale_design',
  'conflict',
  'needs_consent',
  'invalid',
  'too_large',
  'too_many',
  'unavailable',
]);
export type RefusalCode = z.infer<typeof RefusalCode>;

/** One problem at one place: of a body, of a write (its index) and of a field. */
export const PlacedIssue = z.object({ write: z.number().optional(), field: z.string().optional(), path: z.string().optional(), message: z.string() });
export type PlacedIssue = z.infer<typeof PlacedIssue>;

export const RefusalAnswer = z.object({ code: RefusalCode, message: z.string(), issues: z.array(PlacedIssue).default([]), details: z.unknown().optional() });
export type RefusalAnswer = z.infer<typeof RefusalAnswer>;
