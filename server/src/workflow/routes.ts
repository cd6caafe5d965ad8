import { contract } from '@bibliona/core';
import { forMember, type Served } from '../http/serve.js';
import type { Workflow } from './workflow.js';

export const workflowRoutes = (workflow: Workflow): readonly Served[] => [
  forMember(contract.readMoves, ({ params }, { app, person }) => workflow.moves(app, person, params.table, params.id)),
  forMember(contract.readWaiting, (_, { app, person }) => workflow.waiting(app, person)),
  forMember(contract.countStatuses, async ({ params }, { app, person }) => ({ counts: await workflow.counts(app, person, params.route) })),
  forMember(contract.walkRoute, ({ params, query }, { app, person }) => workflow.proof(app, person, params.route, query.id)),
];
