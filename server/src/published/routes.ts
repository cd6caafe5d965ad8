import { contract } from '@bibliona/core';
import { forAnyone, type Served } from '../http/serve.js';
import type { PublishedReader } from './published.js';

export function publishedRoutes(published: PublishedReader): readonly Served[] {
  return [
    forAnyone(contract.readPublishedList, ({ params, query }) => published.list(params.app, params.list, query.after)),
    forAnyone(contract.readPublishedReport, ({ params, query }) => published.report(params.app, params.report, query.from)),
    forAnyone(contract.readPublishedTile, ({ params }) => published.tile(params.app, params.dashboard, params.tile)),
  ];
}
