import { contract, mayOpen, type Person, type Tile } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { Refusal } from '../http/refusal.js';
import { forMember, type OpenedApp, type Served } from '../http/serve.js';
import { KeptAnswers } from '../queries/kept-answers.js';
import { answerTile, readBehindTile } from './dashboards.js';

/** @throws Refusal not_found when there is none, or its dashboard is not among the pages of this person */
function saved(app: OpenedApp, person: Person, params: { readonly dashboard: string; readonly tile: string }): Tile {
  const tile = app.design.dashboards.find((dashboard) => dashboard.id === params.dashboard)?.tiles.find((each) => each.id === params.tile);
  if (tile === undefined || !mayOpen(app.design, person, { kind: 'dashboard', dashboard: params.dashboard }))
    throw new Refusal('not_found', "This tile doesn't exist or you don't have access to it.");
  return tile;
}

export function dashboardRoutes(database: DataSource): readonly Served[] {
  const answers = new KeptAnswers(database);
  return [
    forMember(contract.readTile, ({ params }, { app, person }) => answerTile(answers, app, person, saved(app, person, params))),
    forMember(contract.readBehind, ({ params, query }, { app, person }) => {
      const label = query.label === undefined ? null : { value: query.label };
      return readBehindTile(database, app, person, saved(app, person, params), label, query.limit);
    }),
    forMember(contract.tryTile, ({ body }, { app, person }) => answerTile(answers, app, person, body.tile)),
  ];
}
