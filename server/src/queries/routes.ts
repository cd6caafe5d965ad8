import { contract } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { forMember, type Served } from '../http/serve.js';
import { pickedOf, readQueryGroups, readQueryRows, readQueryValues, savedQuery, tryQuery } from './read-query.js';

// As many rows as the proof of a query shows.
const triedRows = 100;

export function queryRoutes(database: DataSource): readonly Served[] {
  return [
    forMember(contract.readQuery, ({ params, query: { limit, skip, count, ...picked } }, who) =>
      readQueryRows(database, who.app, who.person, savedQuery(who, params.query), { limit, skip, isCounted: count === 'yes', ...pickedOf(picked) }),
    ),
    forMember(contract.readQueryValues, ({ params, query }, who) =>
      readQueryValues(database, who.app, who.person, savedQuery(who, params.query), { search: query.search, narrowed: query.only }),
    ),
    forMember(contract.readQueryGroups, ({ params, query: { search, only, by } }, who) =>
      readQueryGroups(database, who.app, who.person, savedQuery(who, params.query), { picked: { search, narrowed: only }, by }),
    ),
    forMember(contract.tryQuery, ({ body }, { app, person }) => tryQuery(database, app, person, body.query, triedRows)),
  ];
}
