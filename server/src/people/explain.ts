/** Why a person can or can't reach a record, asked of the database and put into words. */
import {
  asBuilder,
  compileCaptions,
  compileMeeting,
  grantsInQuestion,
  queryOf,
  restrict,
  restrictForRules,
  type AccessAnswer,
  type Locale,
  type Person,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';

/** @throws Refusal not_found when there is no such table or record */
export async function explain(database: DataSource, app: OpenedApp, person: Person, tableId: string, id: number, locale: Locale): Promise<AccessAnswer> {
  const { design, schema } = app;
  const table = design.tables.find((each) => each.id === tableId);
  if (table === undefined) throw new Refusal('not_found', 'This table no longer exists in the app.');
  const query = queryOf(tableId, { where: { kind: 'ids', ids: [id] }, limit: 1 });
  const everyone = restrict(query, design, asBuilder(person), Date.now());
  const [record] = await run<{ caption: string }>(database, compileCaptions(everyone, design, schema));
  if (record === undefined) throw new Refusal('not_found', 'This record no longer exists, or you no longer have access to it.');
  const asked = grantsInQuestion(design, person, tableId, locale);
  const conditions = asked.flatMap((grantInQuestion) => (grantInQuestion.condition === null || grantInQuestion.lacksTie ? [] : [grantInQuestion.condition]));
  const rules = restrictForRules(query, design, person, Date.now());
  const [row] = await run<{ met: readonly number[] }>(database, compileMeeting([rules, design, schema], conditions));
  const met = new Set((row?.met ?? []).map((at) => conditions[at]));
  const name = (field: string): string => table.fields.find((each) => each.id === field)?.name ?? '';
  const grants = asked.map((grantInQuestion) => ({
    role: grantInQuestion.role.name,
    condition: grantInQuestion.conditionInWords,
    holds: grantInQuestion.lacksTie
      ? ('lacks_tie' as const)
      : grantInQuestion.condition === null || met.has(grantInQuestion.condition)
        ? ('yes' as const)
        : ('no' as const),
    allows: [...grantInQuestion.allows],
    hidden: grantInQuestion.hidden.map(name),
    locked: grantInQuestion.locked.map(name),
  }));
  const isBuilder = person.role === 'builder';
  const does = (action: 'see' | 'change' | 'remove'): boolean => isBuilder || grants.some((grant) => grant.holds === 'yes' && grant.allows.includes(action));
  const showing = grants.filter((grant) => grant.holds === 'yes' && grant.allows.includes('see'));
  const hidden =
    isBuilder || showing.length === 0 ? [] : table.fields.map((field) => field.name).filter((field) => showing.every((each) => each.hidden.includes(field)));
  return {
    person: person.name,
    record: record.caption,
    isBuilder,
    sees: does('see'),
    changes: does('see') && does('change'),
    removes: does('see') && does('remove'),
    grants,
    hidden,
  };
}
