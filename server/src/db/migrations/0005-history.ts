import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Removed records are found in the history of an app, to be brought back; and whether it has a line since a moment. */
export class History0005000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const schema of await schemas(runner)) {
      const history = `"${schema}"._history`;
      await runner.query(`CREATE INDEX IF NOT EXISTS _history_removed ON ${history} (table_id, id) WHERE kind = 'remove'`);
      await runner.query(`ALTER TABLE ${history} ADD COLUMN IF NOT EXISTS xact xid8 NOT NULL DEFAULT pg_current_xact_id()`);
      await runner.query(`CREATE INDEX IF NOT EXISTS _history_xact ON ${history} (xact)`);
    }
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const schema of await schemas(runner)) {
      await runner.query(`DROP INDEX "${schema}"._history_removed`);
      await runner.query(`ALTER TABLE "${schema}"._history DROP COLUMN xact`);
    }
  }
}

const schemas = async (runner: QueryRunner): Promise<readonly string[]> =>
  ((await runner.query('SELECT schema FROM bibliona.app')) as { schema: string }[]).map((row) => row.schema);
