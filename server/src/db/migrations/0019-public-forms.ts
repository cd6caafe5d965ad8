import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Forms that anyone can fill in: who their records are from, and how many each has added. */
export class PublicForms0019000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    // Nobody signs in as this one: an address without a mailbox, and a password that no password has.
    await runner.query(`INSERT INTO bibliona.person (id, email, name, password_hash) VALUES (0, '', 'Public form', '')`);
    await runner.query(
      `CREATE TABLE bibliona.public_form (app_id text REFERENCES bibliona.app ON DELETE CASCADE, form_id text, sent integer NOT NULL, PRIMARY KEY (app_id, form_id))`,
    );
    await runner.query(
      `CREATE TABLE bibliona.public_entry (save uuid PRIMARY KEY, app_id text NOT NULL REFERENCES bibliona.app ON DELETE CASCADE, at timestamptz NOT NULL DEFAULT now())`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE bibliona.public_form, bibliona.public_entry');
    await runner.query('DELETE FROM bibliona.person WHERE id = 0');
  }
}
