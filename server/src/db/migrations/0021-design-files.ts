import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Files that designs hold: the images on forms. */
export class DesignFiles0021000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE bibliona.design_file (app_id text REFERENCES bibliona.app ON DELETE CASCADE, hash text REFERENCES bibliona.file, PRIMARY KEY (app_id, hash))`,
    );
    await runner.query('CREATE INDEX design_file_hash ON bibliona.design_file (hash)');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE bibliona.design_file');
  }
}
