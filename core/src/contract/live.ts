import { z } from 'zod';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { route } from './route.js';

/** What a stream of live events says: which tables can look otherwise, and the version of the design. */
export const LiveEvent = z.object({ tables: z.array(z.string()), version: z.number() });
export type LiveEvent = z.infer<typeof LiveEvent>;

/** Server-sent events (HTML Standard, 9.2) for as long as the screen is open. `tab`: its own saves are not told to it. */
export const readLive = route({
  method: 'GET',
  path: '/api/apps/:app/live',
  access: 'member',
  stream: true,
  params: appParams,
  query: z.object({ tab: z.string().max(60).default('') }),
  body: nothingAsked,
  answer: z.unknown(),
});
