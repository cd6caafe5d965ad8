import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Which columns of a list each person chose for themselves, and how wide. */
export class ListViews0009000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE bibliona.list_view (app_id text REFERENCES bibliona.app ON DELETE CASCADE, person_id bigint REFERENCES bibliona.person ON DELETE CASCADE, list_id text, columns jsonb NOT NULL, PRIMARY KEY (app_id, person_id, list_id))`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE bibliona.list_view');
  }
}
