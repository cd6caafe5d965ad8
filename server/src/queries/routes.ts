import { contract } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { Refusal } from '../http/refusal.js';
import { forMember, type Served } from '../http/serve.js';
import { answerQuery } from './read-query.js';

// As many rows as the proof of a query shows.
const triedRows = 100;

export function queryRoutes(database: DataSource): readonly Served[] {
  return [
    forMember(contract.readQuery, ({ params, query }, { app, person }) => {
      const saved = app.design.queries.find((one) => one.id === params.query);
      if (saved === undefined) throw new Refusal('not_found', 'There is no such query in this app any more.');
      return answerQuery(database, app, person, saved, query.limit);
    }),
    forMember(contract.tryQuery, ({ body }, { app, person }) => answerQuery(database, app, person, body.query, triedRows)),
  ];
}
