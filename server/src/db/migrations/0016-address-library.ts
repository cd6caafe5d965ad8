import { sqlLibrary } from '@bibliona/core';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The function for fields that hold addresses. */
export class AddressLibrary0016000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const text of sqlLibrary) await runner.query(text);
  }

  // Nothing else asks for it.
  async down(): Promise<void> {
    // Nothing to do.
  }
}
