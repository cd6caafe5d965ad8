/** Statements on Bibliona's own schema that TypeORM's repositories cannot say, each a constant text of ours. */
import type { DataSource } from 'typeorm';
import { poolOf } from './pool.js';

/** Runs a constant text, parsed and planned once per connection under its name. */
export async function runOwn<Row extends object>(database: DataSource, name: string, text: string, values: readonly unknown[]): Promise<readonly Row[]> {
  return (await poolOf(database).query<Row>({ name, text, values: [...values] })).rows;
}
