/** The line every request goes through: errors, headers, who asks, where from, what, and the answer. */
import Router from '@koa/router';
import { contract, mayDesign, type OpenApp, type PlacedIssue } from '@bibliona/core';
import { Readable } from 'node:stream';
import Koa, { type Context, type Next } from 'koa';
import compress from 'koa-compress';
import type { Logger } from 'pino';
import type { z } from 'zod';
import { isDatabaseAway } from '../db/errors.js';
import { sessionCookie } from './cookies.js';
import { readJson } from './body.js';
import { openAppText } from './design-text.js';
import { plainWords } from './plain-words.js';
import { Refusal, statusOf } from './refusal.js';
import { Share } from './shares.js';
import { embedding, lookAsHeader, securityHeaders, type SitesOf } from './headers.js';
import type { Caller, Served } from './serve.js';
import { webSide } from './web-side.js';

export interface ApplicationParts {
  readonly served: readonly Served[];
  /** Who sent the request, and what they are to the app it names. */
  readonly callerOf: (token: string | undefined, app: string | null) => Promise<Caller>;
  /** As whom a builder asks, see `lookAs`. */
  readonly lookAs: (caller: Caller, as: string) => Promise<Caller>;
  readonly web: string;
  /** The sites that can show a public form of an app within their pages. */
  readonly sitesOf: SitesOf;
  readonly address: string | null;
  readonly trustedProxies: number;
  /** The server is about to end: requests that come now are sent to another one. */
  readonly isClosing: () => boolean;
  readonly log: Logger;
}

/** Codes of Node for a connection that the other end has closed. */
const left: ReadonlySet<string> = new Set(['ERR_STREAM_PREMATURE_CLOSE', 'ECONNRESET', 'EPIPE']);

export function application(parts: ApplicationParts): Koa {
  const koa = new Koa();
  koa.proxy = parts.trustedProxies > 0;
  // Of the addresses in X-Forwarded-For only those that our own proxies wrote are believed.
  koa.maxIpsCount = parts.trustedProxies;
  koa.use(errors(parts.log));
  koa.use(securityHeaders(parts.address));
  koa.use(embedding(parts.sitesOf));
  koa.use(compress({ threshold: 2048, br: false, gzip: { level: 1 } }));
  koa.use(sameOrigin(parts.address));
  koa.use(router(parts).routes());
  koa.use(async (context, next) => {
    if (context.path.startsWith('/api/')) throw new Refusal('not_found', 'There is no page at this address.');
    await next();
  });
  koa.use(webSide(parts.web));
  koa.on('error', (error: NodeJS.ErrnoException) => {
    // A person who leaves in the middle of an answer has done nothing wrong.
    if (error.code === undefined || !left.has(error.code)) parts.log.error({ error: error.message }, 'response broke off');
  });
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
        if (refusal.code === 'unavailable' || refusal.code === 'too_many') context.set('Retry-After', refusal.code === 'too_many' ? '60' : '2');
        // What is left of a body that is not read would be read to its end otherwise, however long it is.
        if (!context.req.complete) {
          context.set('Connection', 'close');
          context.res.once('finish', () => context.req.destroy());
        }
        return;
      }
      log.error(
        { error: error instanceof Error ? { message: error.message, stack: error.stack } : error, method: context.method, path: context.path },
        'request failed',
      );
      context.status = 500;
      context.body = {
        code: 'unavailable',
        message: 'Something went wrong on the server. Nothing was changed. Try again. If it happens again, tell the administrator of this server.',
        issues: [],
      };
    }
  };
}

const unavailable = (message: string): Refusal => new Refusal('unavailable', message);

const inUse = (): Refusal => unavailable('This is being changed by others at the moment. Nothing was saved or changed. Try again in a moment.');

/** By codes of PostgreSQL ("PostgreSQL Error Codes"), Node and zlib: what is no fault of the server's code, in words. */
const said: Readonly<Record<string, () => Refusal>> = {
  '57014': () => unavailable('This took too long and was stopped. Narrow the search and try again.'),
  '55P03': inUse,
  '40P01': inUse,
  // A process that has not heard of a change of design yet: the statement was compiled for columns that are no longer so.
  '42703': () => new Refusal('stale_design', 'The design of the app has just changed. Load the page again.'),
  '42P01': () => new Refusal('stale_design', 'The design of the app has just changed. Load the page again.'),
  '53100': () => unavailable('The disk of the database is full. Nothing was saved. Tell the administrator of this server.'),
  ENOSPC: () => unavailable('The disk of the server is full. Nothing was saved. Tell the administrator of this server.'),
};

function asRefusal(error: unknown): Refusal | null {
  if (error instanceof Refusal) return error;
  if (typeof error !== 'object' || error === null) return null;
  const { status, code } = error as { status?: unknown; code?: unknown };
  if (status === 413) return new Refusal('too_large', 'This is more than can be sent at once.');
  const isBroken = typeof code === 'string' && (code.startsWith('Z_') || code === 'ERR_STREAM_PREMATURE_CLOSE' || code === 'ECONNABORTED');
  if (status === 400 || status === 415 || isBroken)
    return new Refusal('bad_request', 'The request could not be read: it broke off or is not what its headers say.');
  if (typeof code === 'string' && Object.hasOwn(said, code)) return said[code]?.() ?? null;
  if (isDatabaseAway(error)) return unavailable('The database is busy or not reachable at the moment. Try again.');
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

// Of twelve connections to the database no app and no person has all; heavy work has four of its own.
const light = { inAll: 24, perApp: 8, perPerson: 6, mostWaiting: 300, patience: 10_000 };
const uploads = { inAll: 4, perApp: 3, perPerson: 2, mostWaiting: 20, patience: 60_000 };
const heavy = { inAll: 4, perApp: 3, perPerson: 2, mostWaiting: 60, patience: 20_000 };

function router(parts: ApplicationParts): Router {
  const all = new Router();
  const shares = { light: new Share(light), heavy: new Share(heavy), uploads: new Share(uploads) };
  for (const served of parts.served) {
    const { route } = served;
    const register = route.method === 'GET' ? all.get.bind(all) : all.post.bind(all);
    register(route.path, async (context: Context & { params: Record<string, string> }) => {
      if (parts.isClosing()) {
        context.set('connection', 'close');
        throw new Refusal('unavailable', 'The server is restarting. Try again in a moment.');
      }
      const params = parse(route.params, context.params, 'address');
      const asked = await parts.callerOf(context.cookies.get(sessionCookie), (params as { app?: string }).app ?? null);
      const as = context.get(lookAsHeader);
      const caller = as === '' ? asked : await parts.lookAs(asked, as);
      if (as !== '' && route.method !== 'GET') throw new Refusal('forbidden', 'You are looking as someone else, so nothing is saved.');
      admit(served, caller);
      const isRead = route.upload === true || route.method === 'GET';
      const input = {
        params,
        query: parse(route.query, { ...context.query }, 'address'),
        body: parse(route.body, isRead ? {} : await readJson(context, route.access === 'anyone'), 'body'),
        context,
      };
      const end = await shares[route.upload === true ? 'uploads' : route.heavy === true ? 'heavy' : 'light'].enter(askingOf(caller, context));
      // The person left while waiting and no longer needs a turn.
      if (context.res.destroyed) return end();
      const answering = (async () => served.answer(input, caller))();
      // Work goes on in the database when its asker leaves, and heavy work also while its answer is sent: its turn lasts for all of that.
      const sent = route.heavy === true ? new Promise<void>((resolve) => context.res.once('close', () => resolve())) : null;
      void Promise.allSettled([answering, sent]).then(end);
      const answer = await answering;
      if (context.response.get('Cache-Control') === '') context.set('Cache-Control', 'no-store');
      if (answer === null || typeof answer !== 'object' || answer instanceof Readable || Buffer.isBuffer(answer)) context.body = answer;
      else {
        // As text: to know how long an object is, the compression would write it out once more.
        context.type = 'json';
        context.body = route.answer === contract.openApp.answer ? openAppText(answer as OpenApp) : JSON.stringify(answer);
      }
    });
  }
  return all;
}

/** For whose share a request counts: those without a session by where they come from. */
function askingOf(caller: Caller, context: Context): { readonly app: string; readonly person: string } {
  const person = caller.kind === 'nobody' ? context.ip : String(caller.signedIn.id);
  return { app: caller.kind === 'member' ? caller.app.id : `of ${person}`, person };
}

/** The one place that lets a request in. What a person can see and change beyond that is woven into each statement. */
function admit(served: Served, caller: Caller): void {
  const { access } = served.route;
  if (access === 'anyone') return;
  if (caller.kind === 'nobody') throw new Refusal('not_signed_in', 'Sign in first.');
  if (access === 'person') return;
  if (access === 'admin') {
    if (!caller.signedIn.isAdmin) throw new Refusal('forbidden', 'Only an administrator of the server can do this.');
    return;
  }
  // An app that is not there and one that is not theirs look the same to a person.
  if (caller.kind !== 'member' || caller.person.role === null) throw new Refusal('not_found', 'There is no such app, or you are not one of its people.');
  if (access === 'builder' && !mayDesign(caller.person)) throw new Refusal('forbidden', 'Only builders of this app can do that.');
}

function parse<T extends z.ZodType>(shape: T, value: unknown, where: string): z.output<T> {
  if (where === 'address' && Object.values(value as object).some((each) => typeof each === 'string' && each.includes('\0')))
    throw new Refusal('bad_request', 'The address holds a character (NUL) that cannot be stored.');
  const parsed = shape.safeParse(value, { error: plainWords });
  if (parsed.success) return parsed.data;
  const issues: PlacedIssue[] = parsed.error.issues.slice(0, 20).map((issue) => ({ path: issue.path.join('.'), message: issue.message }));
  const first = issues[0];
  throw new Refusal(
    'bad_request',
    `The ${where} is not as expected${first === undefined ? '' : `: ${first.path === '' ? '' : `${first.path ?? ''} `}${first.message}`}.`,
    issues,
  );
}
