import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Who administers the server and can make apps, proved addresses, sessions that can be listed, password resets, and invitations to agree to. */
export class Accounts0008000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const text of statements) await runner.query(text);
  }

  async down(): Promise<void> {
    throw new Error('Accounts cannot be downgraded: restore a backup instead');
  }
}

const statements = [
  `ALTER TABLE bibliona.person ADD COLUMN is_admin boolean NOT NULL DEFAULT false, ADD COLUMN may_make_apps boolean NOT NULL DEFAULT false, ADD COLUMN proved_at timestamptz`,
  // Older servers let anyone make apps and accounts for any address: the first person is known, the others prove theirs by a mailed link.
  `UPDATE bibliona.person SET may_make_apps = true`,
  `UPDATE bibliona.person SET is_admin = true, proved_at = now() WHERE id = (SELECT min(id) FROM bibliona.person)`,
  `ALTER TABLE bibliona.session ADD COLUMN id uuid NOT NULL UNIQUE DEFAULT gen_random_uuid(), ADD COLUMN created_at timestamptz NOT NULL DEFAULT now(), ADD COLUMN seen_at timestamptz NOT NULL DEFAULT now(), ADD COLUMN browser text NOT NULL DEFAULT ''`,
  // A browser in which someone has signed in before: wrong tries elsewhere do not lock it out.
  `CREATE TABLE bibliona.device (token_hash text, person_id bigint NOT NULL REFERENCES bibliona.person ON DELETE CASCADE, seen_at timestamptz NOT NULL DEFAULT now(), PRIMARY KEY (token_hash, person_id))`,
  `CREATE TABLE bibliona.reset (token_hash text PRIMARY KEY, person_id bigint NOT NULL REFERENCES bibliona.person ON DELETE CASCADE, expires_at timestamptz NOT NULL)`,
  `CREATE INDEX reset_of_person ON bibliona.reset (person_id)`,
  `ALTER TABLE bibliona.invitation ADD COLUMN id uuid NOT NULL UNIQUE DEFAULT gen_random_uuid()`,
  `CREATE INDEX invitation_of_address ON bibliona.invitation (email)`,
  // Someone who was removed from an app, so that it can be undone.
  `CREATE TABLE bibliona.app_person_removed (app_id text REFERENCES bibliona.app ON DELETE CASCADE, person_id bigint REFERENCES bibliona.person ON DELETE CASCADE, role text NOT NULL, roles text[] NOT NULL, ties jsonb NOT NULL, removed_at timestamptz NOT NULL DEFAULT now(), PRIMARY KEY (app_id, person_id))`,
  `ALTER TABLE bibliona.mail ALTER COLUMN app_id DROP NOT NULL, DROP CONSTRAINT mail_kind_check, DROP CONSTRAINT mail_state_check`,
  `ALTER TABLE bibliona.mail ADD CONSTRAINT mail_kind_check CHECK (kind IN ('automation', 'invitation', 'account')), ADD CONSTRAINT mail_state_check CHECK (state IN ('waiting', 'sent', 'kept', 'failed'))`,
  // Mails with a link into an account, for the administrators of the server.
  `CREATE INDEX mail_of_accounts ON bibliona.mail (created_at, id) WHERE kind <> 'automation'`,
];
