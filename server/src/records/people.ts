/** The people that a save names: only those of the app can be named, and each by their own name. */
import { kindOf, personAs, sightOf, type AppDesign, type Field, type NamedPerson, type Person, type PlacedIssue, type Table, type Write } from '@bibliona/core';
import { runOwn } from '../db/own.js';
import type { Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { asStored } from './as-stored.js';
import { tableIn } from './batch.js';

type Values = Readonly<Record<string, unknown>>;

interface Named {
  readonly field: string;
  readonly value: string;
  readonly person: NamedPerson;
}

/** The people that are named in the values of a record. */
function namedIn(table: Table, values: Values): readonly Named[] {
  return table.fields.flatMap((field) => {
    const value = values[field.id];
    const person = kindOf(field).people?.(value) ?? null;
    return person === null ? [] : [{ field: field.id, value: String(value), person }];
  });
}
const valuesOf = (write: Write): Values => (write.kind === 'add' || write.kind === 'change' ? write.values : {});

/** Everybody of an app who has one of these mail addresses, or all of them. */
export const peopleOf = (runner: Runner, app: string, mails: readonly string[] | null): Promise<readonly NamedPerson[]> =>
  runOwn<NamedPerson>(
    runner,
    'people are named',
    `SELECT p.name, p.email AS mail FROM bibliona.app_person AS m JOIN bibliona.person AS p ON p.id = m.person_id WHERE m.app_id = $1 AND ($2::text[] IS NULL OR p.email = ANY($2)) ORDER BY p.name, p.email`,
    [app, mails],
  );

/** Whether someone can find the people of an app: builders, and who can enter a person somewhere. */
export function findsPeople(design: AppDesign, asker: Person): boolean {
  const enters = (table: Table, field: Field): boolean =>
    (['add', 'change'] as const).some((action) => {
      const sight = sightOf(design, asker, table.id, action);
      return sight.kind === 'all' || sight.grants.some((grant) => !grant.withheld.has(field.id));
    });
  return asker.role === 'builder' || design.tables.some((table) => table.fields.some((field) => kindOf(field).people !== undefined && enters(table, field)));
}

/** At most so many are offered at once. */
const mostOffered = 30;

/**
 * People whose name or mail address has the text in it.
 * @throws Refusal forbidden for who can't enter a person anywhere
 */
export async function lookUpPeople(runner: Runner, { id, design }: OpenedApp, asker: Person, text: string): Promise<readonly NamedPerson[]> {
  if (!findsPeople(design, asker)) throw new Refusal('forbidden', "You don't have permission to see who works in this app.");
  const sought = text.trim().toLowerCase();
  return (await peopleOf(runner, id, null)).filter((person) => `${person.name} ${person.mail}`.toLowerCase().includes(sought)).slice(0, mostOffered);
}

export class SavePeople {
  constructor(
    private readonly app: OpenedApp,
    private readonly person: Person,
  ) {}

  concerns(writes: readonly Write[]): boolean {
    return writes.some((write) => namedIn(tableIn(this.app, write.table), valuesOf(write)).length > 0);
  }

  /** Whoever is in a record already stays there, also after they left the app. */
  async admit(runner: Runner, writes: readonly Write[]): Promise<readonly PlacedIssue[]> {
    const issues: PlacedIssue[] = [];
    for (const [at, write] of writes.entries()) {
      const table = tableIn(this.app, write.table);
      const unknown = await this.unknown(runner, table, valuesOf(write));
      if (unknown.length === 0) continue;
      const before = write.kind === 'change' ? await asStored(runner, this.app, this.person, table, write.id) : null;
      for (const { field, person } of unknown) {
        if (kindOf(table.fields.find((each) => each.id === field) ?? fail(field)).people?.(before?.values[field])?.mail === person.mail) continue;
        issues.push({ write: at, field, message: `“${person.name || person.mail}” is not one of the people of this app. Pick somebody from the list.` });
      }
    }
    return issues;
  }

  /** Those that are named in a record and are nobody of the app. */
  async unknown(runner: Runner, table: Table, values: Values): Promise<readonly Named[]> {
    const named = namedIn(table, values);
    if (named.length === 0) return [];
    const people = await peopleOf(
      runner,
      this.app.id,
      named.map(({ person }) => person.mail),
    );
    return named.filter(({ value }) => !people.some((person) => value === person.mail || value === personAs(person)));
  }
}

const fail = (field: string): never => {
  throw new Error(`There is no field ${field}`);
};
