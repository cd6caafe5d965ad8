import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Says no where an SQL client tries to write through a view of an app. */
export class Views0010000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE FUNCTION bibliona.refuse_write() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RAISE EXCEPTION '% is read-only: records change in Bibliona alone', TG_ARGV[0] USING ERRCODE = 'read_only_sql_transaction'; END $$`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP FUNCTION bibliona.refuse_write()');
  }
}
