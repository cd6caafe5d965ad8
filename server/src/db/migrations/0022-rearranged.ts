import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How a version took the values of records along: its undo brings them back that way. */
export class Rearranged0022000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE bibliona.design_version ADD COLUMN rearranged jsonb');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE bibliona.design_version DROP COLUMN rearranged');
  }
}
