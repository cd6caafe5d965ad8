/** Importing a file as a builder does it: uploaded, planned as the product proposes, and waited for. */
import {
  contract,
  suggestPlan,
  type AppDesign,
  type ColumnPlan,
  type ComputedColumn,
  type ImportAnswer,
  type Matching,
  type OpenApp,
  type ThingPlan,
} from '@bibliona/core';
import { expect } from 'vitest';
import type { Caller } from './support.js';

let made = 0;
const newId = (): string => `n_${(made += 1)}`;
export const importParams = (app: OpenApp, id: string) => ({ app: app.id, import: id });

export async function settled(ada: Caller, app: OpenApp, id: string): Promise<ImportAnswer> {
  for (let tries = 0; tries < 600; tries += 1) {
    const answer = await ada.call(contract.readImport, { params: importParams(app, id) });
    if (answer.state !== 'reading' && answer.state !== 'running') return answer;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('the import never ends');
}

export async function upload(ada: Caller, app: OpenApp, name: string, bytes: Uint8Array | string): Promise<ImportAnswer> {
  const answer = await ada.send(
    'POST',
    `/api/apps/${app.id}/imports?name=${encodeURIComponent(name)}`,
    typeof bytes === 'string' ? Buffer.from(bytes) : bytes,
    { 'content-type': 'application/octet-stream' },
  );
  expect(answer.status).toBe(200);
  return settled(ada, app, (answer.body as ImportAnswer).id);
}

export const opened = (ada: Caller, app: OpenApp): Promise<OpenApp> => ada.call(contract.openApp, { params: { app: app.id } });

export async function run(
  ada: Caller,
  app: OpenApp,
  answer: ImportAnswer,
  target: string | null,
  more: {
    readonly columns?: (columns: ColumnPlan[]) => ColumnPlan[];
    readonly badCells?: 'refuse' | 'empty';
    readonly version?: number;
    readonly matching?: Matching;
    readonly emptyCells?: 'empty' | 'keep';
    readonly isTrial?: boolean;
    readonly computed?: readonly ComputedColumn[];
    /** @param table of the rows */
    readonly things?: (columns: readonly string[], table: string) => ThingPlan[];
  } = {},
): Promise<ImportAnswer> {
  const now = await opened(ada, app);
  const { survey } = answer;
  if (survey === null) throw new Error(`The file was not read: ${answer.message ?? answer.state}`);
  const columns = suggestPlan(survey.columns, now.design as AppDesign, target, newId);
  const table = target ?? newId();
  const plan = {
    reading: survey.reading,
    target: target === null ? { kind: 'new', table, name: answer.fileName.replace(/\..*/u, ''), form: newId(), list: newId() } : { kind: 'table', table },
    columns: more.columns?.(columns) ?? columns,
    computed: more.computed ?? [],
    badCells: more.badCells ?? 'refuse',
    ...(more.matching === undefined ? {} : { matching: more.matching }),
    ...(more.things === undefined
      ? {}
      : {
          things: more.things(
            survey.columns.map((column) => column.name),
            table,
          ),
        }),
    ...(more.emptyCells === undefined ? {} : { emptyCells: more.emptyCells }),
  };
  const started = await ada.send('POST', `/api/apps/${app.id}/imports/${answer.id}/run`, {
    version: more.version ?? now.version,
    plan,
    isTrial: more.isTrial ?? false,
  });
  if (started.status !== 200) throw new Error(JSON.stringify(started.body));
  return settled(ada, app, answer.id);
}

export async function records(ada: Caller, app: OpenApp, id: string | null): Promise<Record<string, unknown>[]> {
  const { design } = await opened(ada, app);
  const found = design.tables.find((table) => table.id === id);
  const { records: all } = await ada.call(contract.readPage, { params: { app: app.id, table: id ?? '' }, query: { limit: 500 } });
  return all.map((record) => Object.fromEntries((found?.fields ?? []).map((field) => [field.name, record.values[field.id] ?? null])));
}

/** Imports a file into what `planned` says, and gives its id once it has begun; it is not waited for. */
export async function begin(ada: Caller, app: OpenApp, csv: string, planned: (columns: ColumnPlan[]) => object): Promise<string> {
  const { id, survey } = await upload(ada, app, 'Rows.csv', csv);
  const now = await opened(ada, app);
  const { target } = planned([]) as { target: { kind: string; table: string } };
  const columns = suggestPlan(survey?.columns ?? [], now.design as AppDesign, target.kind === 'table' ? target.table : null, newId);
  await ada.call(contract.runImport, {
    params: importParams(app, id),
    body: { version: now.version, plan: { reading: survey?.reading, columns, badCells: 'refuse', ...planned(columns) } as never },
  });
  return id;
}
