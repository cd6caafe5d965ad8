/**
 * Reads the body of a request as JSON. It is weighed before it is parsed: a body that is too large, too deep or of too many
 * parts would hold up everybody else while it is read and checked.
 */
import { standardLocale } from '@bibliona/core';
import { bodyParser } from '@koa/bodyparser';
import type { Context } from 'koa';
import { Refusal } from './refusal.js';

/** What a body may be, by who sends it. */
interface Limits {
  readonly size: string;
  /** Values and keys in all. */
  readonly parts: number;
  readonly isCompressed: boolean;
}
const deepest = 60;
/** Anyone can send these: only as much as a form to sign in needs. */
const ofAnyone: Limits = { size: '16kb', parts: 200, isCompressed: false };
const ofPeople: Limits = { size: '8mb', parts: 200_000, isCompressed: true };

const readerOf = (limits: Limits) =>
  bodyParser({ enableTypes: ['text'], extendTypes: { text: ['application/json'] }, textLimit: limits.size, parsedMethods: ['POST'] });
const readers = new Map([ofAnyone, ofPeople].map((limits) => [limits, readerOf(limits)]));

/** @throws Refusal bad_request, too_large */
export async function readJson(context: Context, isForAnyone: boolean): Promise<unknown> {
  const limits = isForAnyone ? ofAnyone : ofPeople;
  if (context.request.length !== undefined && context.request.length > 0 && !context.is('application/json')) throw notJson();
  if (!limits.isCompressed && context.get('content-encoding') !== '') throw new Refusal('bad_request', 'The body of this request must not be compressed.');
  await readers.get(limits)?.(context, async () => undefined);
  const text: unknown = context.request.body;
  if (typeof text !== 'string' || text.trim() === '') return {};
  weigh(text, limits.parts);
  if (hasNul(text)) throw new Refusal('bad_request', 'The body holds a character (NUL) that cannot be stored.');
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw notJson();
  }
}

const notJson = (): Refusal => new Refusal('bad_request', 'The body of the request cannot be read: it must be JSON.');

// What decides the weight of JSON, as character codes.
const [quote, backslash, comma, colon, openList, closeList, openObject, closeObject] = [34, 92, 44, 58, 91, 93, 123, 125];

/** Goes through the text once, without making anything of it. @throws Refusal too_large */
function weigh(text: string, most: number): void {
  let [depth, parts, isText] = [0, 0, false];
  for (let at = 0; at < text.length; at += 1) {
    const sign = text.charCodeAt(at);
    if (isText) {
      if (sign === backslash) at += 1;
      else if (sign === quote) isText = false;
      continue;
    }
    if (sign === quote) isText = true;
    else if (sign === comma || sign === colon) parts += 1;
    else if (sign === openList || sign === openObject) {
      depth += 1;
      parts += 1;
      if (depth > deepest) throw new Refusal('too_large', `The body of the request is nested more than ${deepest} levels deep.`);
    } else if (sign === closeList || sign === closeObject) depth -= 1;
    if (parts > most)
      throw new Refusal('too_large', `The body of the request has more than ${standardLocale().count(most)} parts. Send it in several requests.`);
  }
}

/** PostgreSQL cannot store NUL in text; refused here once, so that no statement meets it. */
const hasNul = (text: string): boolean => text.includes('\0') || (text.includes('\\u0000') && /(?<!\\)(?:\\\\)*\\u0000/u.test(text));
