/** Comments on records: who sees the record reads them and adds to them, and can have people told by mail. */
import { tableOf, type CommentsAnswer, type Person } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { runOwn } from '../db/own.js';
import type { Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { putMails } from '../mail/outbox.js';
import type { SlowDown } from '../people/sign-in.js';
import { findsPeople } from '../records/people.js';
import { RecordReader } from '../records/read.js';

export interface CommentPlace {
  readonly table: string;
  readonly id: number;
}

interface Row {
  readonly id: string;
  readonly at: Date;
  readonly changedAt: Date | null;
  readonly by: string | null;
  readonly mail: string | null;
  readonly person: number | null;
  readonly text: string;
  readonly told: readonly string[];
}

/** So many of a record are shown, the newest. */
const mostShown = 200;

const ofRecord = `
  SELECT c.id, c.at, c.changed_at AS "changedAt", p.name AS by, p.email AS mail, c.person_id AS person, c.text,
    ARRAY(SELECT t.name FROM bibliona.person AS t WHERE t.id = ANY(c.told) ORDER BY t.name) AS told
  FROM bibliona.comment AS c LEFT JOIN bibliona.person AS p ON p.id = c.person_id
  WHERE c.app_id = $1 AND c.table_id = $2 AND c.record_id = $3 ORDER BY c.at DESC, c.id DESC LIMIT $4`;
const put = `
  INSERT INTO bibliona.comment (id, app_id, table_id, record_id, person_id, text, told) VALUES ($1, $2, $3, $4, $5, $6, $7)
  ON CONFLICT (id) DO NOTHING RETURNING id`;
const edit = `UPDATE bibliona.comment SET text = $6, changed_at = clock_timestamp() WHERE id = $1 AND app_id = $2 AND table_id = $3 AND record_id = $4 AND person_id = $5 RETURNING id`;
const drop = `DELETE FROM bibliona.comment WHERE id = $1 AND app_id = $2 AND table_id = $3 AND record_id = $4 AND (person_id = $5 OR $6) RETURNING id`;
const peopleByMail = `
  SELECT p.id, p.name, p.email AS mail, p.region, m.role, m.roles, m.ties FROM bibliona.app_person AS m JOIN bibliona.person AS p ON p.id = m.person_id
  WHERE m.app_id = $1 AND p.email = ANY($2) ORDER BY p.email`;

const gone = (): Refusal => new Refusal('not_found', 'This comment no longer exists, or someone else wrote it.');

export class Comments {
  constructor(
    private readonly database: DataSource,
    private readonly slowDown: SlowDown,
    /** Where the server is reached, for links in mails. */
    private readonly address: () => string,
  ) {}

  /** @throws Refusal not_found when the record is not this person's to see */
  async read(app: OpenedApp, person: Person, place: CommentPlace): Promise<CommentsAnswer> {
    await new RecordReader(this.database, app, person).record(place.table, place.id);
    const rows = await this.rows(this.database, app, place);
    const others = new Map(rows.flatMap((row) => (row.mail === null || row.by === null || row.person === person.id ? [] : [[row.mail, row.by] as const])));
    return {
      comments: rows
        .slice(0, mostShown)
        .reverse()
        .map(({ id, at, changedAt, by, person: author, text, told }) => ({
          id,
          at: at.toISOString(),
          by,
          isOwn: author === person.id,
          text,
          changedAt: changedAt?.toISOString() ?? null,
          told: [...told],
        })),
      more: rows.length > mostShown,
      people: [...others].map(([mail, name]) => ({ name, mail })),
      findsAnyone: findsPeople(app.design, person),
    };
  }

  /**
   * Adds a comment, and puts the mails that tell of it among those to be sent.
   * @throws Refusal not_found when the record is not this person's to see, invalid when someone to be told can't be found or
   * can't see the record, too_many
   */
  async add(
    app: OpenedApp,
    person: Person,
    place: CommentPlace,
    comment: { readonly key: string; readonly text: string; readonly tell: readonly string[] },
  ): Promise<void> {
    await new RecordReader(this.database, app, person).record(place.table, place.id);
    const mails = [...new Set(comment.tell)].filter((mail) => mail !== person.mail);
    for (const _ of mails) await this.slowDown.count('told', `by ${person.id}`, 'You have told many people of comments.');
    await inTransaction(this.database, async (_, runner) => {
      const told = await this.readers(runner, app, person, place, mails);
      const ids = told.map(({ reader }) => reader.id);
      const added = await runOwn(runner, 'add comment', put, [comment.key, app.id, place.table, place.id, person.id, comment.text, ids]);
      // Sent twice, it is there already, and its mails too.
      if (added.length === 0) return;
      const link = `${this.address()}/desk/${app.id}/${place.table}/${place.id}`;
      for (const { reader, caption } of told)
        await putMails(runner, {
          app: app.id,
          kind: 'comment',
          run: null,
          to: [reader.mail],
          subject: `${person.name} wrote to you about ${caption}`,
          body: `${person.name} wrote about ${caption} (${tableOf(app.design, place.table).name}) in ${app.design.name}:\n\n${comment.text}\n\nRead and answer it here:\n${link}\n`,
        });
    });
  }

  /** @throws Refusal not_found */
  async change(app: OpenedApp, person: Person, place: CommentPlace, id: string, text: string): Promise<void> {
    await new RecordReader(this.database, app, person).record(place.table, place.id);
    const changed = await runOwn(this.database, 'change comment', edit, [id, app.id, place.table, place.id, person.id, text]);
    if (changed.length === 0) throw gone();
  }

  /** @throws Refusal not_found */
  async remove(app: OpenedApp, person: Person, place: CommentPlace, id: string): Promise<void> {
    await new RecordReader(this.database, app, person).record(place.table, place.id);
    const removed = await runOwn(this.database, 'remove comment', drop, [id, app.id, place.table, place.id, person.id, person.role === 'builder']);
    if (removed.length === 0) throw gone();
  }

  private rows(runner: Runner, app: OpenedApp, place: CommentPlace): Promise<readonly Row[]> {
    return runOwn<Row>(runner, 'comments of record', ofRecord, [app.id, place.table, place.id, mostShown + 1]);
  }

  /** The people of these addresses, each with what the record is called for them. */
  private async readers(runner: Runner, app: OpenedApp, person: Person, place: CommentPlace, mails: readonly string[]) {
    if (mails.length === 0) return [];
    const people = await runOwn<Person>(runner, 'people by mail', peopleByMail, [app.id, mails]);
    // Who can't find people of the app learns nothing of them here either: they tell those who have spoken already.
    const known = findsPeople(app.design, person) ? null : new Set((await this.rows(runner, app, place)).map((row) => row.mail));
    const told: { readonly reader: Person; readonly caption: string }[] = [];
    for (const mail of mails) {
      const reader = people.find((each) => each.mail === mail && (known === null || known.has(mail)));
      if (reader === undefined) throw untold(`Nobody of this app whom you can tell has the address ${mail}.`);
      const [named] = await new RecordReader(this.database, app, reader).captions(place.table, [place.id]).catch(() => []);
      if (named === undefined) throw untold(`${reader.name} can't see this record. Choose someone who can.`);
      told.push({ reader, caption: named.caption });
    }
    return told;
  }
}

const untold = (message: string): Refusal => new Refusal('invalid', message, [{ field: 'tell', message }]);
