import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the people of an app can do: their roles, and the records they are tied to. */
export class Access0003000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const text of statements) await runner.query(text);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE bibliona.invitation');
    await runner.query('ALTER TABLE bibliona.app_person DROP COLUMN roles, DROP COLUMN ties');
  }
}

const statements = [
  `ALTER TABLE bibliona.app_person ADD COLUMN roles text[] NOT NULL DEFAULT '{}', ADD COLUMN ties jsonb NOT NULL DEFAULT '{}'`,
  // Members of before worked with everything, which is what the role of every app's beginning grants.
  `UPDATE bibliona.app_person SET roles = '{team}' WHERE role = 'member'`,
  `CREATE TABLE bibliona.invitation (token_hash text PRIMARY KEY, app_id text NOT NULL REFERENCES bibliona.app ON DELETE CASCADE, email text NOT NULL, role text NOT NULL CHECK (role IN ('builder', 'member')), roles text[] NOT NULL, ties jsonb NOT NULL, invited_by bigint REFERENCES bibliona.person ON DELETE SET NULL, expires_at timestamptz NOT NULL, UNIQUE (app_id, email))`,
];
