import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Mails are sent by jobs: those that wait get one each. */
export class Jobs0023000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `SELECT bibliona_jobs.add_job('send_mail', json_build_object('mail', id), max_attempts => 14, job_key => 'mail ' || id, flags => ARRAY['send_mail'])
        FROM bibliona.mail WHERE state = 'waiting'`,
    );
    await runner.query('DROP INDEX bibliona.mail_waiting');
    await runner.query('ALTER TABLE bibliona.mail DROP COLUMN next_at');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE bibliona.mail ADD COLUMN next_at timestamptz NOT NULL DEFAULT now()');
    await runner.query(`CREATE INDEX mail_waiting ON bibliona.mail (next_at, created_at) WHERE state = 'waiting'`);
  }
}
