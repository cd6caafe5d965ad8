import { sqlLibrary } from '@bibliona/core';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A function for choices that were merged. */
export class Choices0017000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const text of sqlLibrary) await runner.query(text);
  }

  // Nothing else asks for them.
  async down(): Promise<void> {
    // Nothing to do.
  }
}
