/** How a route of the contract is implemented: what comes in is parsed once, who asks is known, what goes out is typed. */
import type { AppDesign, Person, HttpRoute, SignedIn } from '@bibliona/core';
import type { Context } from 'koa';
import type { z } from 'zod';

/** The app a request is about, as it is at this moment. */
export interface OpenedApp {
  readonly id: string;
  readonly schema: string;
  readonly version: number;
  readonly design: AppDesign;
}

export type Caller =
  | { readonly kind: 'nobody' }
  | { readonly kind: 'person'; readonly signedIn: SignedIn }
  | { readonly kind: 'member'; readonly signedIn: SignedIn; readonly person: Person; readonly app: OpenedApp };

interface Input<R extends HttpRoute> {
  readonly params: z.output<R['params']>;
  readonly query: z.output<R['query']>;
  readonly body: z.output<R['body']>;
  /** For cookies and streams; everything else is in the parts above. */
  readonly context: Context;
}

/** A route with the function that answers it. */
export interface Served {
  readonly route: HttpRoute;
  readonly answer: (input: Input<HttpRoute>, caller: Caller) => Promise<unknown>;
}

type Answer<R extends HttpRoute> = Promise<z.input<R['answer']>>;

export function forAnyone<R extends HttpRoute>(route: R, answer: (input: Input<R>) => Answer<R>): Served {
  return { route, answer: (input) => answer(input) };
}

export function forPerson<R extends HttpRoute>(route: R, answer: (input: Input<R>, signedIn: SignedIn) => Answer<R>): Served {
  return {
    route,
    answer: (input, caller) => {
      if (caller.kind === 'nobody') throw new Error(`${route.path} was reached without a person`);
      return answer(input, caller.signedIn);
    },
  };
}

export function forMember<R extends HttpRoute>(
  route: R,
  answer: (input: Input<R>, who: { readonly person: Person; readonly app: OpenedApp }) => Answer<R>,
): Served {
  return {
    route,
    answer: (input, caller) => {
      if (caller.kind !== 'member') throw new Error(`${route.path} was reached without a member`);
      return answer(input, caller);
    },
  };
}
