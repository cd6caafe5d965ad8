import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What people say about records, and mails that tell of it. */
export class Comments0020000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE bibliona.comment (
        id uuid PRIMARY KEY,
        app_id text NOT NULL REFERENCES bibliona.app ON DELETE CASCADE,
        table_id text NOT NULL,
        record_id bigint NOT NULL,
        person_id bigint REFERENCES bibliona.person ON DELETE SET NULL,
        at timestamptz NOT NULL DEFAULT clock_timestamp(),
        changed_at timestamptz,
        text text NOT NULL,
        told bigint[] NOT NULL
      )`,
    );
    await runner.query('CREATE INDEX comment_of_record ON bibliona.comment (app_id, table_id, record_id, at, id)');
    await runner.query(
      `ALTER TABLE bibliona.mail DROP CONSTRAINT mail_kind_check, ADD CONSTRAINT mail_kind_check CHECK (kind IN ('automation', 'invitation', 'account', 'comment'))`,
    );
    await runner.query('DROP INDEX bibliona.mail_of_accounts');
    await runner.query(`CREATE INDEX mail_of_accounts ON bibliona.mail (created_at, id) WHERE kind IN ('invitation', 'account')`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE bibliona.comment');
    await runner.query(`DELETE FROM bibliona.mail WHERE kind = 'comment'`);
    await runner.query('DROP INDEX bibliona.mail_of_accounts');
    await runner.query(`CREATE INDEX mail_of_accounts ON bibliona.mail (created_at, id) WHERE kind <> 'automation'`);
    await runner.query(
      `ALTER TABLE bibliona.mail DROP CONSTRAINT mail_kind_check, ADD CONSTRAINT mail_kind_check CHECK (kind IN ('automation', 'invitation', 'account'))`,
    );
  }
}
