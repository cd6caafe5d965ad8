/** What automations have done, and what one would do: the log, and the dry run. */
import {
  applyChanges,
  asBuilder,
  compilePage,
  designMessage,
  queryOf,
  restrict,
  tableOf,
  type Automation,
  type Person,
  type Run,
  type RunsAnswer,
  type TryAutomationAnswer,
} from '@bibliona/core';
import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { runOwn } from '../db/own.js';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { SaveChecks } from '../records/checks.js';
import { RecordReader } from '../records/read.js';
import { Automations } from '../records/automations.js';

const shown = 30;

interface Row {
  readonly id: string;
  readonly at: Date;
  readonly by: string | null;
  readonly table: string;
  readonly record: number;
  readonly steps: Run['steps'];
  readonly error: string | null;
}
interface MailRow {
  readonly id: string;
  readonly run: string;
  readonly to: string;
  readonly state: Run['mails'][number]['state'];
}

const list = `
  SELECT r.id, r.at, p.name AS by, r.table_id AS "table", r.record_id AS record, r.steps, r.error
  FROM bibliona.run AS r LEFT JOIN bibliona.person AS p ON p.id = r.person_id
  WHERE r.app_id = $1 AND r.automation_id = $2 AND ($3::uuid IS NULL OR (r.at, r.id) < (SELECT at, id FROM bibliona.run WHERE id = $3)) ORDER BY r.at DESC, r.id DESC LIMIT $4`;
const mailsOf = `SELECT id, run_id AS run, recipient AS "to", state FROM bibliona.mail WHERE run_id = ANY($1::uuid[]) ORDER BY recipient`;

/** Raised to take back the transaction of a dry run. */
class DryRunOver extends Error {
  constructor(readonly answer: TryAutomationAnswer) {
    super('dry run over');
  }
}

export class Runs {
  constructor(private readonly database: DataSource) {}

  async list(app: OpenedApp, builder: Person, automation: string, before: string | undefined): Promise<RunsAnswer> {
    const found = await runOwn<Row>(this.database, 'list runs', list, [app.id, automation, before ?? null, shown + 1]);
    const rows = found.slice(0, shown);
    const mails = await runOwn<MailRow>(this.database, 'mails of runs', mailsOf, [rows.map((row) => row.id)]);
    const captions = await this.captions(app, builder, rows);
    const runs = rows.map((row): Run => ({
      ...row,
      at: row.at.toISOString(),
      record: { id: row.record, caption: captions.get(`${row.table} ${row.record}`) ?? null },
      mails: mails.filter((mail) => mail.run === row.id).map(({ id, to, state }) => ({ id, to, state })),
    }));
    return { runs, more: found.length > shown };
  }

  private async captions(app: OpenedApp, builder: Person, rows: readonly Row[]): Promise<ReadonlyMap<string, string>> {
    const called = new Map<string, string>();
    for (const table of new Set(rows.map((row) => row.table))) {
      if (!app.design.tables.some((each) => each.id === table)) continue;
      const ids = [...new Set(rows.filter((row) => row.table === table).map((row) => row.record))];
      for (const caption of await new RecordReader(this.database, app, builder).captions(table, ids)) called.set(`${table} ${caption.id}`, caption.caption);
    }
    return called;
  }

  /** @throws Refusal invalid when the automation cannot be in the design, not_found when there is no such record */
  async try(app: OpenedApp, builder: Person, automation: Automation, asked: number | undefined): Promise<TryAutomationAnswer> {
    const made = applyChanges(app.design, [{ kind: 'put', part: 'automation', value: automation }]);
    if (!made.ok) throw new Refusal('invalid', made.issues.map(designMessage).join(' '));
    const tried = { ...app, design: made.design };
    const put = made.design.automations.find((each) => each.id === automation.id) ?? automation;
    const { table } = put;
    const id = asked ?? (await this.newest(tried, builder, table));
    if (id === null) return { record: null, isMet: false, steps: [], error: null, sets: [] };
    const reader = new RecordReader(this.database, tried, builder);
    const { rev } = await reader.record(table, id);
    const caption = (await reader.captions(table, [id]))[0]?.caption ?? '';
    try {
      return await inTransaction(this.database, async (_, runner) => {
        const automations = new Automations(tried, builder, { key: randomUUID(), asked: null }, new SaveChecks(tried, builder));
        throw new DryRunOver({ record: { id, caption }, ...(await automations.dry(runner, put, id, rev)) });
      });
    } catch (error) {
      if (error instanceof DryRunOver) return error.answer;
      throw error;
    }
  }

  private async newest(app: OpenedApp, builder: Person, table: string): Promise<number | null> {
    const query = restrict(queryOf(tableOf(app.design, table).id, { backwards: true, limit: 1 }), app.design, asBuilder(builder), Date.now());
    return (await run<{ id: number }>(this.database, compilePage(query, app.design, app.schema)))[0]?.id ?? null;
  }
}
