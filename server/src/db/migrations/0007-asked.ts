import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Each line of the history tells what was asked for under its key, so that a key serves one request. */
export class Asked0007000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const schema of await schemas(runner)) await runner.query(`ALTER TABLE "${schema}"._history ADD COLUMN IF NOT EXISTS asked uuid`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const schema of await schemas(runner)) await runner.query(`ALTER TABLE "${schema}"._history DROP COLUMN asked`);
  }
}

const schemas = async (runner: QueryRunner): Promise<readonly string[]> =>
  ((await runner.query('SELECT schema FROM bibliona.app')) as { schema: string }[]).map((row) => row.schema);
