import { randomBytes } from 'node:crypto';
import type { Context, Next } from 'koa';
import helmet from 'koa-helmet';

/** A builder asks as someone else: for which person or role. */
export const lookAsHeader = 'x-look-as';

/** The script that shows a public form within another page. */
export const embedScript = '/embed.js';

const noncePlace = Symbol('nonce');
interface WithNonce {
  [noncePlace]?: string;
}

/** The nonce that the style elements of this page carry; made anew for each page. */
export const styleNonce = (context: Context): string => (context.res as WithNonce)[noncePlace] ?? '';

/** Security headers. Scripts come from our own files alone; style elements carry a nonce that the page is given. */
export function securityHeaders(address: string | null) {
  const shared = {
    strictTransportSecurity: address?.startsWith('https:') === true,
    referrerPolicy: { policy: 'same-origin' },
    crossOriginEmbedderPolicy: false,
  } as const;
  const page = helmet({
    ...shared,
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'"],
        styleSrc: ["'self'", (_, response) => `'nonce-${(response as WithNonce)[noncePlace] ?? ''}'`],
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
  });
  // An answer of the interface is data: nothing in it can ever run or be framed. Made once, for it is sent most often.
  const data = helmet({ ...shared, contentSecurityPolicy: { useDefaults: false, directives: { defaultSrc: ["'none'"], frameAncestors: ["'none'"] } } });
  return (context: Context, next: Next): Promise<unknown> => {
    if (context.path.startsWith('/api/')) return data(context, next) as Promise<unknown>;
    (context.res as WithNonce)[noncePlace] = randomBytes(16).toString('base64');
    return page(context, next) as Promise<unknown>;
  };
}

/** Lets the page of a public form be a part of pages of the sites that its builder has named, and the script that puts it there be loaded by them. */
export function embedding(sitesOf: (app: string, form: string) => Promise<readonly string[]>) {
  return async (context: Context, next: Next): Promise<void> => {
    if (context.path === embedScript) context.set('Cross-Origin-Resource-Policy', 'cross-origin');
    const [, app, form] = /^\/public\/([a-z0-9_]{1,60})\/([a-z0-9_]{1,60})$/u.exec(context.path) ?? [];
    const sites = app === undefined || form === undefined ? [] : await sitesOf(app, form);
    if (sites.length > 0) {
      context.set(
        'Content-Security-Policy',
        context.response.get('Content-Security-Policy').replace("frame-ancestors 'none'", `frame-ancestors ${sites.join(' ')}`),
      );
      // The older header knows no list of sites; browsers that know the newer one heed that alone (CSP Level 3, 6.4.2).
      context.remove('X-Frame-Options');
    }
    await next();
  };
}
