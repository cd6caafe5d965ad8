import type { PlacedIssue, RefusalCode, RefusalDetails } from '@bibliona/core';

/** A request that is not done, for a reason that the person who sent it can read. Everything else that is thrown is a fault. */
export class Refusal<C extends RefusalCode = RefusalCode> extends Error {
  constructor(
    readonly code: C,
    message: string,
    readonly issues: readonly PlacedIssue[] = [],
    readonly details?: RefusalDetails<C>,
  ) {
    super(message);
  }
}

export const statusOf = {
  bad_request: 400,
  not_signed_in: 401,
  wrong_sign_in: 401,
  forbidden: 403,
  not_found: 404,
  stale_design: 409,
  conflict: 409,
  needs_consent: 409,
  invalid: 422,
  too_large: 413,
  too_many: 429,
  unavailable: 503,
} as const satisfies Record<RefusalCode, number>;
