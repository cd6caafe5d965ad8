import { plainMatching, suggestPlan, type Person } from '@bibliona/core';
import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { AppsService } from '../apps/apps.js';
import { runImport } from './run-import.js';
import { surveyFile } from './survey-file.js';

/** Imports a CSV file into a table whose fields are named as its columns, without a screen: for the demo and benchmarks. */
export async function loadFile(
  database: DataSource,
  asked: { readonly app: string; readonly person: Person; readonly table: string; readonly path: string; readonly size: number },
): Promise<number> {
  const done = async (): Promise<void> => undefined;
  const survey = await surveyFile(asked.path, {}, done);
  const open = await new AppsService(database, done).open(asked.app, asked.person);
  const newId = (): string => `f_${randomUUID().replaceAll('-', '').slice(0, 12)}`;
  const columns = suggestPlan(survey.columns, open.design as Parameters<typeof suggestPlan>[1], asked.table, newId);
  const job = {
    id: randomUUID(),
    appId: asked.app,
    person: asked.person,
    path: asked.path,
    size: asked.size,
    survey,
    version: open.version,
    plan: {
      reading: survey.reading,
      target: { kind: 'table' as const, table: asked.table },
      columns,
      badCells: 'refuse' as const,
      matching: plainMatching,
      emptyCells: 'empty' as const,
      things: [],
      computed: [],
    },
    isTrial: false,
  };
  return (await runImport(database, job, done, done)).added;
}
