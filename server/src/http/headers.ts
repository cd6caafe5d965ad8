import { isPublishedKind, type PublishedKind } from '@bibliona/core';
import { randomBytes } from 'node:crypto';
import type { Context, Next } from 'koa';
import helmet from 'koa-helmet';

/** A builder asks as someone else: for which person or role. */
export const lookAsHeader = 'x-look-as';

/** The script that shows public forms, lists, reports and tiles within another page. */
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

/** The sites whose pages a public form, list, report or tile can be a part of. */
export type SitesOf = (app: string, kind: 'form' | PublishedKind, name: string) => Promise<readonly string[]>;

/** The address of a public form: `/public/app/form`; of what is only read: `/public/app/list/name`. */
const publicPage = /^\/public\/([a-z0-9_]{1,60})(?:\/([a-z]{1,20}))?\/([a-z0-9_]{1,60}(?:\.[a-z0-9_]{1,60})?)$/u;

/** Lets public pages be a part of pages of the sites that their builder has named, and the script that puts them there be loaded by these. */
export function embedding(sitesOf: SitesOf) {
  return async (context: Context, next: Next): Promise<void> => {
    if (context.path === embedScript) context.set('Cross-Origin-Resource-Policy', 'cross-origin');
    const [, app, kind = 'form', name] = publicPage.exec(context.path) ?? [];
    const isKnown = kind === 'form' || isPublishedKind(kind);
    const sites = app === undefined || name === undefined || !isKnown ? [] : await sitesOf(app, kind, name);
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
