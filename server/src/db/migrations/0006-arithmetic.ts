import { sqlLibrary } from '@bibliona/core';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Dividing and rounding several times as fast, with the same results. */
export class Arithmetic0006000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const text of sqlLibrary) await runner.query(text);
  }

  // The functions as they were give the same results, so there is nothing to go back to.
  async down(): Promise<void> {
    // Nothing to do.
  }
}
