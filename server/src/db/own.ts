/** Statements on Bibliona's own schema that TypeORM's repositories cannot say, each a constant text of ours. */
import { sourceOf, type Runner } from './run.js';

/** Runs a constant text, parsed and planned once per connection under its name. */
export async function runOwn<Row extends object>(runner: Runner, name: string, text: string, values: readonly unknown[]): Promise<readonly Row[]> {
  return (await (await sourceOf(runner)).query<Row>({ name, text, values: [...values] })).rows;
}
