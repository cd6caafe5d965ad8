/** The only place where compiled statements meet the database. */
import type { Statement } from '@bibliona/core';
import { createHash } from 'node:crypto';
import type { Pool, PoolClient } from 'pg';
import { LRUCache } from 'lru-cache';
import type { DataSource, QueryRunner } from 'typeorm';
import { poolOf } from './pool.js';

/** Either a pool, for one statement by itself, or the connection of a transaction. */
export type Runner = DataSource | QueryRunner;

export async function run<Row extends object>(runner: Runner, statement: Statement): Promise<readonly Row[]> {
  const source = await sourceOf(runner);
  return (await source.query<Row>(statement.text, statement.params as unknown[])).rows;
}

export const sourceOf = async (runner: Runner): Promise<Pool | PoolClient> =>
  'createQueryRunner' in runner ? poolOf(runner) : ((await runner.connect()) as PoolClient);

/**
 * Runs a statement that comes again and again with other values, parsed and planned once per connection (measured on
 * saving a record: a fifth faster). Only for texts of which a design has few.
 */
export async function runPrepared<Row extends object>(runner: Runner, statement: Statement): Promise<readonly Row[]> {
  const source = await sourceOf(runner);
  const name = nameOf(statement.text);
  return (await source.query<Row>({ name, text: statement.text, values: statement.params as unknown[] })).rows;
}

// PostgreSQL keeps each named statement for as long as its connection lives, which is why connections are dropped after a
// while: then only the statements still in use have names.
const names = new LRUCache<string, string>({ max: 1000 });
function nameOf(text: string): string {
  const known = names.get(text);
  if (known !== undefined) return known;
  const name = createHash('sha1').update(text).digest('base64url');
  names.set(text, name);
  return name;
}

/** Runs the text of migration steps, which core wrote from a design. */
export async function runDefinition(runner: QueryRunner, texts: readonly string[]): Promise<void> {
  for (const text of texts) await runner.query(text);
}
