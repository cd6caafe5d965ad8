import { contract } from '@bibliona/core';
import { forMember, type Served } from '../http/serve.js';
import type { Runs } from './runs.js';
import type { Workflow } from './workflow.js';

export const workflowRoutes = (workflow: Workflow, runs: Runs): readonly Served[] => [
  forMember(contract.readMoves, ({ params }, { app, person }) => workflow.moves(app, person, params.table, params.id)),
  forMember(contract.readWaiting, ({ query }, { app, person }) => workflow.waiting(app, person, query)),
  forMember(contract.countStatuses, async ({ params }, { app, person }) => ({ counts: await workflow.counts(app, person, params.route) })),
  forMember(contract.walkRoute, ({ params, query }, { app, person }) => workflow.proof(app, person, params.route, query.id)),
  forMember(contract.readRuns, ({ params, query }, { app, person }) => runs.list(app, person, params.automation, query.before)),
  forMember(contract.tryAutomation, ({ body }, { app, person }) => runs.try(app, person, body.automation, body.id)),
];
