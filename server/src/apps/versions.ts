/** The versions of an app: what each changed, by whom and when, and what differs between two. */
import { differencesOf, type DesignDifference, type LogEntry } from '@bibliona/core';
import { LessThan, type DataSource } from 'typeorm';
import { DesignVersions, Persons } from '../db/entities.js';
import { designAt } from './design-target.js';

const versionsAtOnce = 200;

/** What is different in one version from another one. @throws Refusal not_found when one of them is not kept */
export async function compareVersions({ manager }: DataSource, app: string, from: number, to: number): Promise<{ differences: DesignDifference[] }> {
  return { differences: [...differencesOf((await designAt(manager, app, from)).design, (await designAt(manager, app, to)).design)] };
}

/** The newest versions, or those before one. */
export async function versionLog(database: DataSource, app: string, before?: number): Promise<{ entries: LogEntry[]; more: boolean }> {
  const rows = await database.getRepository(DesignVersions).find({
    where: { appId: app, ...(before === undefined ? {} : { version: LessThan(before) }) },
    order: { version: 'DESC' },
    take: versionsAtOnce + 1,
    select: { version: true, at: true, personId: true, description: true },
  });
  const people = await database.getRepository(Persons).find({ select: { id: true, name: true } });
  const names = new Map(people.map((person) => [Number(person.id), person.name]));
  const entries = rows.slice(0, versionsAtOnce).map((row) => ({
    version: row.version,
    at: row.at.toISOString(),
    person: row.personId === null ? '' : (names.get(Number(row.personId)) ?? ''),
    description: row.description,
  }));
  return { entries, more: rows.length > versionsAtOnce };
}
