import { contract, mayDesign } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { forMember, type Served } from '../http/serve.js';
import { answerQuery, savedQuery } from './read-query.js';

// As many rows as the proof of a query shows.
const triedRows = 100;

export function queryRoutes(database: DataSource): readonly Served[] {
  return [
    forMember(contract.readQuery, async ({ params, query }, who) => {
      const answer = await answerQuery(database, who.app, who.person, savedQuery(who, params.query), query.limit);
      // What each step leaves out is said in the builder's own conditions; others are told how many rows there are.
      return mayDesign(who.person) ? answer : { ...answer, ledger: answer.ledger.slice(-1).map((step) => ({ ...step, says: '' })) };
    }),
    forMember(contract.tryQuery, ({ body }, { app, person }) => answerQuery(database, app, person, body.query, triedRows)),
  ];
}
