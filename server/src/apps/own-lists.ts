/** Lists that people keep for themselves. */
import { KeptList, mostOwnLists, type OpenApp, type Person } from '@bibliona/core';
import type { Runner } from '../db/run.js';
import { runOwn } from '../db/own.js';
import { Refusal } from '../http/refusal.js';

type OwnList = OpenApp['ownLists'][number];

const put = `
  INSERT INTO bibliona.own_list (app_id, person_id, id, name, of)
  SELECT $1, $2, $3, $4, $5
  WHERE (SELECT count(*) FROM bibliona.own_list WHERE app_id = $1 AND person_id = $2 AND id <> $3) < $6
  ON CONFLICT (app_id, person_id, id) DO UPDATE SET name = excluded.name, of = excluded.of
  RETURNING id`;
const drop = `DELETE FROM bibliona.own_list WHERE app_id = $1 AND person_id = $2 AND id = $3 RETURNING id`;
const all = `SELECT id, name, of FROM bibliona.own_list WHERE app_id = $1 AND person_id = $2 ORDER BY created_at, id`;

/** @throws Refusal invalid when the person has as many as one can have */
export async function keepOwnList(runner: Runner, app: string, person: Person, { id, name, of }: OwnList): Promise<void> {
  const saved = await runOwn(runner, 'keep own list', put, [app, person.id, id, name, JSON.stringify(of), mostOwnLists]);
  if (saved.length === 0) throw new Refusal('invalid', `You have ${mostOwnLists} lists of your own. Remove one to keep another.`);
}

/** @throws Refusal not_found */
export async function removeOwnList(runner: Runner, app: string, person: Person, id: string): Promise<void> {
  const gone = await runOwn(runner, 'remove own list', drop, [app, person.id, id]);
  if (gone.length === 0) throw new Refusal('not_found', 'This list of yours no longer exists.');
}

/** What earlier versions of the product have kept is read as it is understood today; what can't be is left alone. */
export const ownListsOf = async (runner: Runner, app: string, person: Person): Promise<OpenApp['ownLists']> =>
  (await runOwn<OwnList>(runner, 'own lists', all, [app, person.id])).flatMap((own) => {
    const of = KeptList.safeParse(own.of);
    return of.success ? [{ ...own, of: of.data }] : [];
  });
