import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Context, Next } from 'koa';
import send from 'koa-send';
import { embedScript, styleNonce } from './headers.js';
import { Refusal } from './refusal.js';

/** Serves the built web side. Files of the build carry their hash in the name; every other address is the page itself. */
export function webSide(root: string) {
  return async (context: Context, next: Next): Promise<void> => {
    if (context.method !== 'GET' && context.method !== 'HEAD') {
      await next();
      return;
    }
    if (context.path.startsWith('/assets/')) {
      try {
        await send(context, context.path, { root, maxage: 365 * 86_400_000, immutable: true });
      } catch (error) {
        if (((error as { status?: number }).status ?? 500) >= 500) throw error;
        throw new Refusal('not_found', 'This file is from another version of the page. Load the page again.');
      }
      return;
    }
    if (context.path === embedScript) {
      // It is asked for under one name: a page that uses it is brought up to date within the hour.
      await send(context, context.path, { root, maxage: 3_600_000 });
      return;
    }
    const page = await readFile(join(root, 'index.html'), 'utf8').catch(() => null);
    if (page === null) throw new Refusal('unavailable', 'The web side has not been built yet: run npm start.');
    context.type = 'html';
    context.set('Cache-Control', 'no-store');
    context.body = page.replaceAll('__STYLE_NONCE__', styleNonce(context));
  };
}
