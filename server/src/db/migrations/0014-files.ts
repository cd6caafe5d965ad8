import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Files by their content, the parts in which PostgreSQL keeps them, and who uploaded them to which app. */
export class Files0014000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE bibliona.file (hash text PRIMARY KEY, size bigint NOT NULL, ending text NOT NULL, has_preview boolean NOT NULL, is_stored boolean NOT NULL DEFAULT false, touched_at timestamptz NOT NULL DEFAULT now())`,
    );
    await runner.query(`CREATE TABLE bibliona.file_part (key text, place integer, bytes bytea NOT NULL, PRIMARY KEY (key, place))`);
    // Photos and documents are compressed already.
    await runner.query('ALTER TABLE bibliona.file_part ALTER COLUMN bytes SET STORAGE EXTERNAL');
    await runner.query(
      `CREATE TABLE bibliona.file_use (app_id text REFERENCES bibliona.app ON DELETE CASCADE, hash text REFERENCES bibliona.file, person_id bigint REFERENCES bibliona.person, uploaded_at timestamptz NOT NULL DEFAULT now(), is_saved boolean NOT NULL DEFAULT false, PRIMARY KEY (app_id, hash, person_id))`,
    );
    await runner.query('CREATE INDEX file_use_hash ON bibliona.file_use (hash)');
    await runner.query('CREATE INDEX file_use_unsaved ON bibliona.file_use (uploaded_at) WHERE NOT is_saved');
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['file_use', 'file_part', 'file']) await runner.query(`DROP TABLE bibliona.${table}`);
  }
}
