import { contract } from '@bibliona/core';
import { starters } from '@bibliona/demo/starters';
import type { DataSource } from 'typeorm';
import type { AppsService } from '../apps/apps.js';
import { forMember, forPerson, type Served } from '../http/serve.js';
import { useStarter } from './use-starter.js';

export function starterRoutes(apps: AppsService, database: DataSource): readonly Served[] {
  const told = Object.entries(starters).map(([id, { name, description }]) => ({ id, name, description }));
  return [
    forPerson(contract.listStarters, async () => ({ starters: told })),
    forMember(contract.useStarter, ({ body }, { app, person }) => useStarter(database, apps, app, person, body.version, body.starter)),
  ];
}
