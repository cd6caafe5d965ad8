import { contract } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { forMember, type Served } from '../http/serve.js';
import { keepOwnMenu, noteOpened, readOwnMenu } from './own-menu.js';

export function ownMenuRoutes(database: DataSource): readonly Served[] {
  return [
    forMember(contract.readOwnMenu, (_, who) => readOwnMenu(database, who)),
    forMember(contract.keepOwnMenu, async ({ body }, who) => ({ revision: await keepOwnMenu(database, who, body.revision, body.sections) })),
    forMember(contract.noteOpened, async ({ body }, who) => {
      await noteOpened(database, who, body);
      return {};
    }),
  ];
}
