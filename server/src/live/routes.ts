import { contract } from '@bibliona/core';
import { forMember, type Served } from '../http/serve.js';
import { sessionCookie } from '../http/cookies.js';
import type { Live } from './live.js';

export const liveRoutes = (live: Live): readonly Served[] => [
  forMember(contract.readLive, ({ query, context }, { app, person }) =>
    Promise.resolve(live.open(context, app.id, { person, version: app.version, token: context.cookies.get(sessionCookie) ?? '' }, query.tab)),
  ),
];
