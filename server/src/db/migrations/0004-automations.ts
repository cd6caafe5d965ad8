import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What automations did, the mails that are to be sent, and the mailbox that replaces a relay. */
export class Automations0004000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const text of statements) await runner.query(text);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE bibliona.run, bibliona.mail, bibliona.mailbox');
  }
}

const statements = [
  `CREATE TABLE bibliona.run (id uuid PRIMARY KEY, app_id text NOT NULL REFERENCES bibliona.app ON DELETE CASCADE, automation_id text NOT NULL, at timestamptz NOT NULL DEFAULT clock_timestamp(), person_id bigint REFERENCES bibliona.person ON DELETE SET NULL, table_id text NOT NULL, record_id bigint NOT NULL, steps jsonb NOT NULL, error text)`,
  `CREATE INDEX run_of_automation ON bibliona.run (app_id, automation_id, at, id)`,
  // A mail is here from the transaction that caused it until it has been sent, and is kept as the log of it.
  `CREATE TABLE bibliona.mail (id uuid PRIMARY KEY, app_id text NOT NULL REFERENCES bibliona.app ON DELETE CASCADE, kind text NOT NULL CHECK (kind IN ('automation', 'invitation')), run_id uuid, recipient text NOT NULL, subject text NOT NULL, body text NOT NULL, created_at timestamptz NOT NULL DEFAULT clock_timestamp(), state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'sent', 'failed')), attempts integer NOT NULL DEFAULT 0, begun_at timestamptz, next_at timestamptz NOT NULL DEFAULT now(), sent_at timestamptz, error text, doubtful boolean NOT NULL DEFAULT false)`,
  `CREATE INDEX mail_waiting ON bibliona.mail (next_at, created_at) WHERE state = 'waiting'`,
  `CREATE INDEX mail_of_app ON bibliona.mail (app_id, created_at, id)`,
  `CREATE INDEX mail_of_run ON bibliona.mail (run_id)`,
  `CREATE TABLE bibliona.mailbox (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, message_id text NOT NULL, at timestamptz NOT NULL DEFAULT now(), sender text NOT NULL, recipients text[] NOT NULL, subject text NOT NULL, body text NOT NULL)`,
  `CREATE INDEX mailbox_by_message ON bibliona.mailbox (message_id)`,
];
