/** Which records of another table belong to records, where a link says so. */
import {
  compilePage,
  otherSide,
  queryOf,
  restrict,
  tableOf,
  type AppDesign,
  type Person,
  type Query,
  type ReferenceValue,
  type Relationship,
  type RestrictedQuery,
} from '@bibliona/core';
import { run, type Runner } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';

/** A link as it is seen from the records of one of its tables. */
export interface LinkFrom {
  readonly link: string;
  /** The fields of a pair: the one that names the record at hand, and the one that names what belongs to it. */
  readonly own: string;
  readonly other: string;
  /** The table of what belongs to it. */
  readonly to: string;
}
/** Null when the relationship is no side of a link. */
export function linkFrom(design: AppDesign, relationship: Relationship): LinkFrom | null {
  const other = otherSide(design, relationship);
  return other === null ? null : { link: tableOf(design, relationship.child).id, own: relationship.field, other: other.field.id, to: other.table.id };
}

export interface Pair {
  readonly id: number;
  readonly rev: number;
  readonly other: ReferenceValue;
}

type Row = Record<string, ReferenceValue | null> & { readonly id: number; readonly rev: number };
/** Of some records; each of them has few in practice. */
const mostPairs = 1_000_000;

/** The pairs of records, by the record. @param within says for whom */
export async function pairsOf(
  runner: Runner,
  { design, schema }: Pick<OpenedApp, 'design' | 'schema'>,
  { link, own, other }: LinkFrom,
  records: readonly number[],
  within: (query: Query) => RestrictedQuery,
): Promise<ReadonlyMap<number, readonly Pair[]>> {
  const pairs = new Map<number, Pair[]>();
  if (records.length === 0) return pairs;
  const query = queryOf(link, { columns: [own, other], where: { kind: 'refers_to', field: own, ids: records }, limit: mostPairs });
  for (const row of await run<Row>(runner, compilePage(within(query), design, schema))) {
    const [of, named] = [row[own], row[other]];
    if (of == null || named == null) continue;
    const known = pairs.get(of.id);
    const pair = { id: row.id, rev: row.rev, other: named };
    if (known === undefined) pairs.set(of.id, [pair]);
    else known.push(pair);
  }
  return pairs;
}

/**
 * For each link what belongs to the records, as an import reads it: names with commas between them.
 * @param most so many names are told of each record, and how many there are besides; null: all
 */
export const namesOf = (
  runner: Runner,
  app: OpenedApp,
  person: Person,
  links: readonly Relationship[],
  records: readonly number[],
  most: number | null,
): Promise<readonly ReadonlyMap<number, string>[]> =>
  Promise.all(
    links.map(async (relationship) => {
      const from = linkFrom(app.design, relationship);
      if (from === null) return new Map<number, string>();
      const pairs = await pairsOf(runner, app, from, records, (query) => restrict(query, app.design, person, Date.now()));
      return new Map([...pairs].map(([record, all]) => [record, said(all, most ?? all.length)]));
    }),
  );

function said(pairs: readonly Pair[], most: number): string {
  const names = pairs.slice(0, most).map((pair) => pair.other.caption);
  return `${names.join(', ')}${pairs.length > most ? ` and ${pairs.length - most} more` : ''}`;
}
