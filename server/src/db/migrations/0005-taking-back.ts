import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Removed records are found in the history of an app, to be brought back. */
export class TakingBack0005000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const schema of await schemas(runner))
      await runner.query(`CREATE INDEX IF NOT EXISTS _history_removed ON "${schema}"._history (table_id, id) WHERE kind = 'remove'`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const schema of await schemas(runner)) await runner.query(`DROP INDEX "${schema}"._history_removed`);
  }
}

const schemas = async (runner: QueryRunner): Promise<readonly string[]> =>
  ((await runner.query('SELECT schema FROM bibliona.app')) as { schema: string }[]).map((row) => row.schema);
