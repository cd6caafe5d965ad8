/** The line every request goes through: errors, headers, who asks, where from, what, and the answer. */
import { bodyParser } from '@koa/bodyparser';
import Router from '@koa/router';
import { mayDesign, type PlacedIssue } from '@bibliona/core';
import Koa, { type Context, type Next } from 'koa';
import compress from 'koa-compress';
import type { Logger } from 'pino';
import type { z } from 'zod';
import { lookAsHeader } from '../people/look-as.js';
import { Refusal, statusOf } from './refusal.js';
import { securityHeaders } from './headers.js';
import type { Caller, Served } from './serve.js';
import { webSide } from './web-side.js';

export interface ApplicationParts {
  readonly served: readonly Served[];
  /** Who sent the request, and what they are to the app it names. */
  readonly callerOf: (token: string | undefined, app: string | null) => Promise<Caller>;
  /** As whom a builder asks, see `lookAs`. */
  readonly lookAs: (caller: Caller, as: string) => Promise<Caller>;
  readonly web: string;
  readonly address: string | null;
  readonly log: Logger;
}

export const sessionCookie = 'bibliona_session';

export function application(parts: ApplicationParts): Koa {
  const koa = new Koa();
  koa.proxy = parts.address !== null;
  koa.use(errors(parts.log));
  koa.use(securityHeaders(parts.address));
  koa.use(compress({ threshold: 2048, br: false, gzip: { level: 1 } }));
  koa.use(sameOrigin(parts.address));
  koa.use(router(parts).routes());
  koa.use(async (context, next) => {
    if (context.path.startsWith('/api/')) throw new Refusal('not_found', 'There is nothing at this address.');
    await next();
  });
  koa.use(webSide(parts.web));
  koa.on('error', (error: Error) => parts.log.error({ error: error.message }, 'response broke off'));
  return koa;
}

function errors(log: Logger) {
  return async (context: Context, next: Next): Promise<void> => {
    try {
      await next();
    } catch (error) {
      const refusal = asRefusal(error);
      if (refusal !== null) {
        context.status = statusOf[refusal.code];
        context.body = { code: refusal.code, message: refusal.message, issues: refusal.issues, details: refusal.details };
        return;
      }
      log.error(
        { error: error instanceof Error ? { message: error.message, stack: error.stack } : error, method: context.method, path: context.path },
        'request failed',
      );
      context.status = 500;
      context.body = {
        code: 'unavailable',
        message: 'Something went wrong on the server. Nothing was changed. Try again; if it happens again, tell whoever looks after the server.',
        issues: [],
      };
    }
  };
}

function asRefusal(error: unknown): Refusal | null {
  if (error instanceof Refusal) return error;
  if (typeof error !== 'object' || error === null) return null;
  const { status, code } = error as { status?: unknown; code?: unknown };
  if (status === 413) return new Refusal('too_large', 'This is more than can be taken at once.');
  if (status === 400 || status === 415) return new Refusal('bad_request', 'The body of the request cannot be read: it must be JSON.');
  if (code === '57014') return new Refusal('unavailable', 'This took too long and was stopped. Narrow the search and try again.');
  // A process that has not heard of a change of design yet: the statement was compiled for columns that are no longer so.
  if (code === '42703' || code === '42P01') return new Refusal('stale_design', 'The design of the app has just changed. Load the page again.');
  if (code === 'ECONNREFUSED' || code === '57P01' || code === '57P03' || code === '53300')
    return new Refusal('unavailable', 'The database is not reachable at the moment. Try again.');
  return null;
}

/** A change is only taken from our own pages: the browser says where a request comes from, and others cannot forge it. */
function sameOrigin(address: string | null) {
  return async (context: Context, next: Next): Promise<void> => {
    if (context.method !== 'GET' && context.method !== 'HEAD') {
      const own = address === null ? `${context.protocol}://${context.host}` : new URL(address).origin;
      const origin = context.get('origin');
      const site = context.get('sec-fetch-site');
      if ((origin !== '' && origin !== own) || (origin === '' && site !== '' && site !== 'same-origin'))
        throw new Refusal('forbidden', 'This request comes from another site.');
    }
    await next();
  };
}

const parseBody = bodyParser({ enableTypes: ['json'], jsonLimit: '8mb', jsonStrict: true, parsedMethods: ['POST'] });

function router(parts: ApplicationParts): Router {
  const all = new Router();
  for (const served of parts.served) {
    const { route } = served;
    const register = route.method === 'GET' ? all.get.bind(all) : all.post.bind(all);
    register(route.path, async (context: Context & { params: Record<string, string> }) => {
      const params = parse(route.params, context.params, 'address');
      const asked = await parts.callerOf(context.cookies.get(sessionCookie), (params as { app?: string }).app ?? null);
      const as = context.get(lookAsHeader);
      const caller = as === '' ? asked : await parts.lookAs(asked, as);
      if (as !== '' && route.method !== 'GET') throw new Refusal('forbidden', 'You are looking as someone else: nothing is saved meanwhile.');
      admit(served, caller);
      if (route.upload !== true && route.method === 'POST') await parseBody(context, async () => undefined);
      const input = {
        params,
        query: parse(route.query, { ...context.query }, 'address'),
        body: parse(route.body, route.upload === true || route.method === 'GET' ? {} : (context.request.body ?? {}), 'body'),
        context,
      };
      const answer = await served.answer(input, caller);
      context.set('Cache-Control', 'no-store');
      context.body = answer;
    });
  }
  return all;
}

/** The one place that lets a request in. What a person may see and change beyond that is woven into each statement. */
function admit(served: Served, caller: Caller): void {
  const { access } = served.route;
  if (access === 'anyone') return;
  if (caller.kind === 'nobody') throw new Refusal('not_signed_in', 'Sign in first.');
  if (access === 'person') return;
  // An app that is not there and one that is not theirs look the same to a person.
  if (caller.kind !== 'member' || caller.person.role === null) throw new Refusal('not_found', 'There is no such app, or you are not one of its people.');
  if (access === 'builder' && !mayDesign(caller.person)) throw new Refusal('forbidden', 'Only a builder of this app may do that.');
}

function parse<T extends z.ZodType>(shape: T, value: unknown, where: string): z.output<T> {
  if (holdsNul(value)) throw new Refusal('bad_request', `The ${where} holds a character (NUL) that cannot be stored.`);
  const parsed = shape.safeParse(value);
  if (parsed.success) return parsed.data;
  const issues: PlacedIssue[] = parsed.error.issues.slice(0, 20).map((issue) => ({ path: issue.path.join('.'), message: issue.message }));
  const first = issues[0];
  throw new Refusal(
    'bad_request',
    `The ${where} is not as expected${first === undefined ? '' : `: ${first.path === '' ? '' : `${first.path ?? ''} `}${first.message}`}.`,
    issues,
  );
}

/** PostgreSQL cannot store NUL in text; refused here once, so that no statement meets it. Depth is bounded by the body's size. */
function holdsNul(value: unknown): boolean {
  const waiting: unknown[] = [value];
  while (waiting.length > 0) {
    const next = waiting.pop();
    if (typeof next === 'string' && next.includes('\0')) return true;
    if (typeof next === 'object' && next !== null) for (const [key, inner] of Object.entries(next)) waiting.push(key, inner);
  }
  return false;
}
