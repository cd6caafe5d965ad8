/** What people put into the menu of their Desk themselves, and the records that they opened last: told by the names that they can see. */
import { mostRecent, type NamedLink, type OwnMenu, type OwnSection, type Person } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { runOwn } from '../db/own.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { RecordReader } from '../records/read.js';

/** More of the records that were opened last are kept than are told, in place of those that are gone by now. */
const recentKept = 24;

const storedMenu = `SELECT revision, sections FROM bibliona.own_menu WHERE app_id = $1 AND person_id = $2`;
const keep = `
  INSERT INTO bibliona.own_menu (app_id, person_id, revision, sections) VALUES ($1, $2, 1, $4)
  ON CONFLICT (app_id, person_id) DO UPDATE SET revision = own_menu.revision + 1, sections = excluded.sections WHERE own_menu.revision = $3
  RETURNING revision`;
const opened = `SELECT table_id AS "table", record_id::float8 AS id FROM bibliona.opened_record WHERE app_id = $1 AND person_id = $2 ORDER BY at DESC LIMIT $3`;
const note = `
  INSERT INTO bibliona.opened_record (app_id, person_id, table_id, record_id) VALUES ($1, $2, $3, $4)
  ON CONFLICT (app_id, person_id, table_id, record_id) DO UPDATE SET at = now()`;
const forget = `
  DELETE FROM bibliona.opened_record WHERE app_id = $1 AND person_id = $2
  AND at <= (SELECT at FROM bibliona.opened_record WHERE app_id = $1 AND person_id = $2 ORDER BY at DESC OFFSET $3 LIMIT 1)`;

interface Link {
  readonly table: string;
  readonly id: number;
}
interface Who {
  readonly app: OpenedApp;
  readonly person: Person;
}

export async function readOwnMenu(database: DataSource, who: Who): Promise<OwnMenu> {
  const of = [who.app.id, who.person.id];
  const [own] = await runOwn<{ revision: number; sections: OwnSection[] }>(database, 'own menu', storedMenu, of);
  const sections = own?.sections ?? [];
  const chosen = sections.flatMap(({ links }) => links.filter((link) => link.kind === 'record'));
  const recent = await runOwn<Link>(database, 'opened records', opened, [...of, recentKept]);
  const names = await namesOf(database, who, [...chosen, ...recent]);
  const named = (links: readonly Link[]): NamedLink[] => links.flatMap((link) => names.get(keyOf(link)) ?? []);
  return { revision: own?.revision ?? 0, sections, records: named(chosen), recent: named(recent).slice(0, mostRecent) };
}

/** @throws Refusal invalid when it was changed in the meantime */
export async function keepOwnMenu(database: DataSource, { app, person }: Who, revision: number, sections: readonly OwnSection[]): Promise<number> {
  const [made] = await runOwn<{ revision: number }>(database, 'keep own menu', keep, [app.id, person.id, revision, JSON.stringify(sections)]);
  if (made === undefined) throw new Refusal('invalid', 'Your menu was changed in another window. Open it again to see how it is now.');
  return made.revision;
}

/** @throws Refusal not_found when it is not there, or not this person's to see */
export async function noteOpened(database: DataSource, who: Who, link: Link): Promise<void> {
  if ((await namesOf(database, who, [link])).size === 0) throw new Refusal('not_found', 'This record no longer exists, or you no longer have access to it.');
  const of = [who.app.id, who.person.id];
  await runOwn(database, 'note opened', note, [...of, link.table, link.id]);
  await runOwn(database, 'forget opened', forget, [...of, recentKept]);
}

const keyOf = ({ table, id }: Link): string => `${table} ${id}`;

/** What records are called, as far as this person can see them. */
async function namesOf(database: DataSource, { app, person }: Who, links: readonly Link[]): Promise<ReadonlyMap<string, NamedLink>> {
  const reader = new RecordReader(database, app, person);
  const names = new Map<string, NamedLink>();
  const tables = new Set(links.map((link) => link.table));
  for (const table of app.design.tables.filter((each) => tables.has(each.id))) {
    const ids = [...new Set(links.flatMap((link) => (link.table === table.id ? [link.id] : [])))];
    for (const { id, caption } of await reader.captions(table.id, ids)) names.set(keyOf({ table: table.id, id }), { table: table.id, id, caption });
  }
  return names;
}
