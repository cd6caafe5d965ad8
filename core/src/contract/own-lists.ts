/** Lists that people keep for themselves: how a list or a query of the app was searched, narrowed, sorted and grouped, under a name. */
import { z } from 'zod';
import { Label } from '../shapes/shapes.js';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { route } from './route.js';
import { KeptList } from './selection.js';

export const mostOwnLists = 50;
const ownParams = appParams.extend({ own: z.uuid() });

/** Keeps a list under an id that its asker has made: sent twice it is kept once, and sent anew it is replaced. */
export const keepOwnList = route({
  method: 'POST',
  path: '/api/apps/:app/own-lists/:own',
  access: 'member',
  params: ownParams,
  query: nothingAsked,
  body: z.object({ name: Label, of: KeptList }),
  answer: z.object({}),
});
export const removeOwnList = route({
  method: 'POST',
  path: '/api/apps/:app/own-lists/:own/remove',
  access: 'member',
  params: ownParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({}),
});
