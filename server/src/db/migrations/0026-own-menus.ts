import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What people put into their menus themselves, and the records that they opened last. */
export class OwnMenus0026000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE bibliona.own_menu (
        app_id text NOT NULL REFERENCES bibliona.app ON DELETE CASCADE,
        person_id bigint NOT NULL REFERENCES bibliona.person ON DELETE CASCADE,
        revision integer NOT NULL,
        sections jsonb NOT NULL,
        PRIMARY KEY (app_id, person_id)
      )`,
    );
    await runner.query(
      `CREATE TABLE bibliona.opened_record (
        app_id text NOT NULL REFERENCES bibliona.app ON DELETE CASCADE,
        person_id bigint NOT NULL REFERENCES bibliona.person ON DELETE CASCADE,
        table_id text NOT NULL,
        record_id bigint NOT NULL,
        at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (app_id, person_id, table_id, record_id)
      )`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE bibliona.opened_record');
    await runner.query('DROP TABLE bibliona.own_menu');
  }
}
