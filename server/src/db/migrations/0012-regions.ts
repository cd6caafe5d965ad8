import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How each person writes numbers and dates; null: as the app does. */
export class Regions0012000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE bibliona.person ADD COLUMN region text');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE bibliona.person DROP COLUMN region');
  }
}
