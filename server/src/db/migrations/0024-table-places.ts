import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Where builders have put the tables in the diagram of an app. */
export class TablePlaces0024000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE bibliona.table_place (
        app_id text REFERENCES bibliona.app ON DELETE CASCADE,
        table_id text,
        x integer NOT NULL,
        y integer NOT NULL,
        PRIMARY KEY (app_id, table_id)
      )`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE bibliona.table_place');
  }
}
