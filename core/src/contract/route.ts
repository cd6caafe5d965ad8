/** What a route of the HTTP interface takes and gives. The server implements it and the web calls it from the same value. */
import { z } from 'zod';

/**
 * Who can call it: anyone at all; a person who has signed in; a person of the app; a builder of the app; an
 * administrator of the server. What each person can see and change beyond that is decided by access, not here.
 */
export type RouteAccess = 'anyone' | 'person' | 'member' | 'builder' | 'admin';

export interface Route<P extends z.ZodType = z.ZodType, Q extends z.ZodType = z.ZodType, B extends z.ZodType = z.ZodType, A extends z.ZodType = z.ZodType> {
  readonly method: 'GET' | 'POST';
  /** With `:name` for each parameter. A route of an app has the parameter `app`. */
  readonly path: string;
  readonly access: RouteAccess;
  readonly params: P;
  readonly query: Q;
  /** `upload` routes read the body as it streams in and have no shape for it. */
  readonly body: B;
  readonly answer: A;
  readonly upload?: true;
  /** Asks more of the database than a page of records does: such requests take turns, apart from the others. */
  readonly heavy?: true;
  /** Its answer goes on for as long as the asker stays. */
  readonly stream?: true;
}

export const route = <P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, A extends z.ZodType>(parts: Route<P, Q, B, A>): Route<P, Q, B, A> => parts;

/** A value that is in an address as JSON. */
export const fromJson = <T extends z.ZodType>(shape: T) =>
  z
    .string()
    .max(20_000)
    .transform((text, context): unknown => {
      try {
        return JSON.parse(text) as unknown;
      } catch {
        context.addIssue({ code: 'custom', message: 'must be JSON' });
        return z.NEVER;
      }
    })
    .pipe(shape);
