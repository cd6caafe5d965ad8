import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What people keep for themselves can also be the rows of a query. */
export class OwnQueries0027000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE bibliona.own_list ADD COLUMN of jsonb');
    await runner.query(`UPDATE bibliona.own_list SET of = jsonb_build_object('kind', 'table', 'table', table_id, 'selection', selection)`);
    await runner.query('ALTER TABLE bibliona.own_list ALTER COLUMN of SET NOT NULL, DROP COLUMN table_id, DROP COLUMN selection');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE bibliona.own_list ADD COLUMN table_id text, ADD COLUMN selection jsonb');
    await runner.query(`DELETE FROM bibliona.own_list WHERE of->>'kind' <> 'table'`);
    await runner.query(`UPDATE bibliona.own_list SET table_id = of->>'table', selection = of->'selection'`);
    await runner.query('ALTER TABLE bibliona.own_list ALTER COLUMN table_id SET NOT NULL, ALTER COLUMN selection SET NOT NULL, DROP COLUMN of');
  }
}
