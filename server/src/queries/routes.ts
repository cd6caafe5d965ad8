import { contract, type SavedQuery } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { Refusal } from '../http/refusal.js';
import { forMember, type OpenedApp, type Served } from '../http/serve.js';
import { exportAnswer } from '../records/export.js';
import { answerQuery } from './read-query.js';

// As many rows as the proof of a query shows.
const triedRows = 100;

function savedQuery(app: OpenedApp, id: string): SavedQuery {
  const saved = app.design.queries.find((one) => one.id === id);
  if (saved === undefined) throw new Refusal('not_found', 'There is no such query in this app any more.');
  return saved;
}

export function queryRoutes(database: DataSource): readonly Served[] {
  return [
    forMember(contract.readQuery, ({ params, query }, { app, person }) => answerQuery(database, app, person, savedQuery(app, params.query), query.limit)),
    forMember(contract.exportQuery, ({ params, context }, { app, person }) => exportAnswer(database, context, app, person, savedQuery(app, params.query))),
    forMember(contract.tryQuery, ({ body }, { app, person }) => answerQuery(database, app, person, body.query, triedRows)),
  ];
}
