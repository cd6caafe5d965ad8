import { contract, mayDesign, mayOpen, type Person, type SavedQuery } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { Refusal } from '../http/refusal.js';
import { forMember, type OpenedApp, type Served } from '../http/serve.js';
import { exportAnswer } from './export.js';
import { answerQuery } from './read-query.js';

// As many rows as the proof of a query shows.
const triedRows = 100;

/** @throws Refusal not_found when there is none, or it is not among the pages of this person */
function savedQuery({ app, person }: { readonly app: OpenedApp; readonly person: Person }, id: string): SavedQuery {
  const saved = app.design.queries.find((query) => query.id === id);
  if (saved === undefined || !mayOpen(app.design, person, { kind: 'query', query: id }))
    throw new Refusal('not_found', "This query doesn't exist or you don't have access to it.");
  return saved;
}

export function queryRoutes(database: DataSource): readonly Served[] {
  return [
    forMember(contract.readQuery, async ({ params, query }, who) => {
      const answer = await answerQuery(database, who.app, who.person, savedQuery(who, params.query), query.limit);
      // What each step leaves out is said in the builder's own conditions; others are told how many rows there are.
      return mayDesign(who.person) ? answer : { ...answer, ledger: answer.ledger.slice(-1).map((step) => ({ ...step, says: '' })) };
    }),
    forMember(contract.exportQuery, ({ params, query, context }, who) =>
      exportAnswer(database, context, who.app, who.person, savedQuery(who, params.query), query.format),
    ),
    forMember(contract.tryQuery, ({ body }, { app, person }) => answerQuery(database, app, person, body.query, triedRows)),
  ];
}
