import { randomBytes } from 'node:crypto';
import type { Context, Next } from 'koa';
import helmet from 'koa-helmet';

/** The nonce that the style elements of this answer carry; made anew for each. */
export const styleNonce = (context: Context): string => (context.state as { nonce: string }).nonce;

/** Security headers. Scripts come from our own files alone; style elements carry a nonce that the page is given. */
export function securityHeaders(address: string | null) {
  const secure = address?.startsWith('https:') === true;
  return async (context: Context, next: Next): Promise<unknown> => {
    const nonce = randomBytes(16).toString('base64');
    (context.state as { nonce: string }).nonce = nonce;
    return helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
          // The layout engine of diagrams runs as a worker from a file of ours.
          workerSrc: ["'self'"],
          styleSrc: ["'self'", `'nonce-${nonce}'`],
          // Sizes and places that components set on elements; no selector and no address can be in them.
          styleSrcAttr: ["'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          formAction: ["'self'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: secure,
      referrerPolicy: { policy: 'same-origin' },
      crossOriginEmbedderPolicy: false,
    })(context, next);
  };
}
