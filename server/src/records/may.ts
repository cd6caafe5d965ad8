import { compileCount, queryOf, restrictForWrite, sightOf, type OpenRecord, type Person } from '@bibliona/core';
import { run, type Runner } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';

/** What a person can do with one record, where grants for its table depend on what is in it. */
export async function mayDo(runner: Runner, { design, schema }: OpenedApp, person: Person, table: string, id: number): Promise<Pick<OpenRecord, 'may'>> {
  let depends = false;
  const can = async (action: 'change' | 'remove'): Promise<boolean> => {
    const sight = sightOf(design, person, table, action);
    if (sight.kind === 'all' || sight.grants.some((grant) => grant.condition === null)) return true;
    if (sight.grants.length === 0) return false;
    depends = true;
    const query = restrictForWrite(action, queryOf(table, { where: { kind: 'ids', ids: [id] } }), design, person, Date.now());
    const [row] = await run<{ count: number }>(runner, compileCount([query, design, schema], 1));
    return row?.count === 1;
  };
  const may = { change: await can('change'), remove: await can('remove') };
  return depends ? { may } : {};
}
