/** Statements on Bibliona's own schema that TypeORM's repositories cannot say, each a constant text of ours. */
import type { PoolClient } from 'pg';
import type { DataSource } from 'typeorm';

/** Runs a constant text, parsed and planned once per connection. */
export async function runOwn<Row extends object>(database: DataSource, text: string, values: readonly unknown[]): Promise<readonly Row[]> {
  const runner = database.createQueryRunner();
  try {
    const client = (await runner.connect()) as PoolClient;
    const result = await client.query<Row>({ name: `own ${text.length} ${text.slice(0, 40)}`, text, values: [...values] });
    return result.rows;
  } finally {
    await runner.release();
  }
}
