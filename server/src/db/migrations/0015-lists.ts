import { sqlLibrary } from '@bibliona/core';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Functions for fields that hold several values. */
export class Lists0015000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const text of sqlLibrary) await runner.query(text);
  }

  // Nothing else asks for them.
  async down(): Promise<void> {
    // Nothing to do.
  }
}
