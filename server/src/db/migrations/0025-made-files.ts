import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Files that people have asked for and that are made in the background. */
export class MadeFiles0025000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE bibliona.made_file (
        id uuid PRIMARY KEY,
        app_id text NOT NULL REFERENCES bibliona.app ON DELETE CASCADE,
        person_id bigint NOT NULL REFERENCES bibliona.person ON DELETE CASCADE,
        name text NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        state text NOT NULL,
        facts jsonb NOT NULL
      )`,
    );
    await runner.query('CREATE INDEX made_file_of_person ON bibliona.made_file (app_id, person_id, created_at)');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE bibliona.made_file');
  }
}
