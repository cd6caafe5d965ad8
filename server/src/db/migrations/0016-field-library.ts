import { sqlLibrary } from '@bibliona/core';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Functions for fields that hold addresses and formatted texts. */
export class FieldLibrary0016000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const text of sqlLibrary) await runner.query(text);
  }

  // Nothing else asks for them.
  async down(): Promise<void> {
    // Nothing to do.
  }
}
