import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * A design is only ever stored and read as a whole. As text, and compressed by lz4 where PostgreSQL was built with it, a
 * megabyte is stored in a quarter of the time (measured: 14 instead of 61 ms).
 */
export class DesignText0013000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE bibliona.design_version ALTER COLUMN design TYPE json USING design::json');
    // After the type: another type puts the compression back to the default.
    await runner.query(`
      DO $$ BEGIN
        ALTER TABLE bibliona.design_version ALTER COLUMN design SET COMPRESSION lz4;
      EXCEPTION WHEN feature_not_supported OR invalid_parameter_value THEN NULL;
      END $$`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE bibliona.design_version ALTER COLUMN design TYPE jsonb USING design::jsonb');
  }
}
