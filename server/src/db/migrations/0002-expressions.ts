import { sqlLibrary } from '@bibliona/core';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The functions that compiled expressions call. */
export class Expressions0002000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const text of sqlLibrary) await runner.query(text);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP SCHEMA feel CASCADE');
  }
}
