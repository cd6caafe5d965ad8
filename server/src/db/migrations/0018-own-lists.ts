import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Lists that people keep for themselves. */
export class OwnLists0018000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE bibliona.own_list (
        app_id text REFERENCES bibliona.app ON DELETE CASCADE,
        person_id bigint REFERENCES bibliona.person ON DELETE CASCADE,
        id uuid,
        table_id text NOT NULL,
        name text NOT NULL,
        selection jsonb NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        PRIMARY KEY (app_id, person_id, id)
      )`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE bibliona.own_list');
  }
}
