import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The newest design was stored twice. Lists of apps need only its name and how many tables it has. */
export class AppNames0011000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE bibliona.app ADD COLUMN name text, ADD COLUMN tables integer');
    await runner.query(`UPDATE bibliona.app SET name = design->>'name', tables = jsonb_array_length(design->'tables')`);
    await runner.query('ALTER TABLE bibliona.app ALTER COLUMN name SET NOT NULL, ALTER COLUMN tables SET NOT NULL, DROP COLUMN design');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE bibliona.app ADD COLUMN design jsonb');
    await runner.query('UPDATE bibliona.app AS a SET design = v.design FROM bibliona.design_version AS v WHERE v.app_id = a.id AND v.version = a.version');
    await runner.query('ALTER TABLE bibliona.app ALTER COLUMN design SET NOT NULL, DROP COLUMN name, DROP COLUMN tables');
  }
}
