/**
 * Forms that anyone can fill in. A visitor is the one person `visitorOf` makes of them, so what they add goes through the
 * same save, the same grants and the same checks as everybody's; nothing is read back to them.
 */
import { createHmac, randomBytes, randomUUID, timingSafeEqual } from 'node:crypto';
import {
  leastFillTime,
  localeOf,
  publicDesign,
  publicFields,
  publicForm,
  tablesTouched,
  visitorOf,
  type OpenToAll,
  type PublicFormAnswer,
  type WrittenValue,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import type { Designs } from '../apps/designs.js';
import { seenBy } from '../apps/seen-by.js';
import { Settings } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import type { SlowDown } from '../people/sign-in.js';
import { save } from '../records/save.js';

/** In milliseconds: for so long a page can stay open and be sent. */
const longestTime = 7 * 86_400_000;

// What is sent twice under one ticket is one record, and counted once.
const reserve = `
  WITH fresh AS (INSERT INTO bibliona.public_entry (save, app_id) VALUES ($4, $1) ON CONFLICT (save) DO NOTHING RETURNING save),
  counted AS (
    INSERT INTO bibliona.public_form (app_id, form_id, sent) SELECT $1, $2, 1 FROM fresh
    ON CONFLICT (app_id, form_id) DO UPDATE SET sent = public_form.sent + 1 WHERE public_form.sent < $3::bigint
    RETURNING sent
  )
  SELECT EXISTS (SELECT FROM fresh) AS "isFresh", EXISTS (SELECT FROM counted) AS "isCounted"`;
const forgetEntry = `DELETE FROM bibliona.public_entry WHERE save = $1`;
const giveBack = `
  WITH gone AS (DELETE FROM bibliona.public_entry WHERE save = $3 RETURNING save)
  UPDATE bibliona.public_form SET sent = sent - 1 WHERE app_id = $1 AND form_id = $2 AND EXISTS (SELECT FROM gone)`;
const forgetOld = `DELETE FROM bibliona.public_entry WHERE at < now() - interval '8 days'`;
const sentSoFar = `SELECT sent FROM bibliona.public_form WHERE app_id = $1 AND form_id = $2`;
// No form is closed by it.
const noLimit = 2_147_483_646;

export interface Sent {
  readonly ticket: string;
  readonly values: Readonly<Record<string, WrittenValue>>;
  readonly answer: string;
  readonly unseen: string;
}

export class PublicForms {
  private key: Promise<string> | null = null;

  constructor(
    private readonly database: DataSource,
    private readonly designs: Designs,
    private readonly slowDown: SlowDown,
    /** Tells open screens. */
    private readonly touched: (app: string, tables: readonly string[]) => void,
  ) {}

  /** @throws Refusal not_found, where there is no such public form: whether there is such an app is not told */
  async found(appId: string, formId: string): Promise<{ readonly app: OpenedApp; readonly form: OpenToAll }> {
    const app = await this.designs.newestOf(appId);
    const form = app === null ? undefined : publicForm(app.design, formId);
    if (app === null || form === undefined) throw new Refusal('not_found', 'There is no form at this address, or it is no longer public.');
    return { app, form };
  }

  /** The sites that can show a form within their pages; none where there is no such form. */
  async sites(app: string, form: string): Promise<readonly string[]> {
    try {
      return (await this.found(app, form)).form.public.sites;
    } catch (error) {
      if (error instanceof Refusal) return [];
      throw error;
    }
  }

  async read(appId: string, formId: string): Promise<PublicFormAnswer> {
    const { app, form } = await this.found(appId, formId);
    if (await this.isClosed(app, form)) return { state: 'closed', name: form.name, text: form.public.closedText ?? '' };
    const seen = await seenBy(publicDesign(app.design, form), visitorOf(form));
    // Whatever the role lets people see: a visitor adds, and sees nothing.
    const rights = Object.fromEntries(
      Object.entries(seen.rights).map(([table, own]) => [table, { ...own, see: false, change: false, remove: false, export: false }]),
    );
    return {
      state: 'open',
      app: { id: app.id, version: app.version, ...seen, rights, menu: [], views: {}, ownLists: [], undo: null, redo: null },
      form: form.id,
      question: form.public.question?.text ?? null,
      ticket: await this.ticket(app.id, form.id, randomUUID(), Date.now()),
    };
  }

  /**
   * Adds the record that a visitor has filled in.
   * @param from where they come from, for the limit on how many one place can send
   * @returns what they are told
   * @throws Refusal bad_request, forbidden (closed, or sent by a program), too_many, invalid (issues by field)
   */
  async send(appId: string, formId: string, sent: Sent, from: string): Promise<string> {
    const { app, form } = await this.found(appId, formId);
    const key = await this.keyOf(app.id, form.id, sent.ticket);
    await this.slowDown.count('public', `${app.id} ${form.id} ${from}`, 'This form was sent from here many times.');
    await this.slowDown.count('publicInAll', `${app.id} ${form.id}`, 'This form was sent many times.');
    if (sent.unseen !== '') throw new Refusal('forbidden', 'This looks as if a program had filled it in. Try again.');
    const { question, most } = form.public;
    if (question !== undefined && !question.answers.some((answer) => same(answer, sent.answer)))
      throw new Refusal('invalid', 'This is not the answer to the question.', [{ field: 'answer', message: 'is not the answer' }]);
    const { asked } = publicFields(app.design, form);
    const unasked = Object.keys(sent.values).find((id) => !asked.some((field) => field.id === id));
    if (unasked !== undefined) throw new Refusal('stale_design', 'The form has changed in the meantime. Load the page again.');
    if (hasEnded(app, form)) throw closed(form);
    const [place] = await runOwn<{ isFresh: boolean; isCounted: boolean }>(this.database, 'reserve entry', reserve, [app.id, form.id, most ?? noLimit, key]);
    if (place?.isFresh === true && !place.isCounted) {
      await runOwn(this.database, 'forget entry', forgetEntry, [key]);
      throw closed(form);
    }
    try {
      const writes = [{ kind: 'add', table: form.table, as: 'entry', values: { ...sent.values } }] as const;
      await save(this.database, app, visitorOf(form), key, writes);
      this.touched(app.id, tablesTouched(app.design, writes));
    } catch (error) {
      if (place?.isFresh === true) await runOwn(this.database, 'give back entry', giveBack, [app.id, form.id, key]);
      throw error;
    }
    return form.thanks ?? '';
  }

  /** How many records a form has added. */
  async count(app: string, form: string): Promise<number> {
    const [row] = await runOwn<{ sent: number }>(this.database, 'sent so far', sentSoFar, [app, form]);
    return row?.sent ?? 0;
  }

  /** Drops what only tickets needed that have run out. */
  async forget(): Promise<void> {
    await runOwn(this.database, 'forget public entries', forgetOld, []);
  }

  private async isClosed(app: OpenedApp, form: OpenToAll): Promise<boolean> {
    const { most } = form.public;
    return hasEnded(app, form) || (most !== undefined && (await this.count(app.id, form.id)) >= most);
  }

  /** Signed, so that it can't be made elsewhere: of which form it is, for which save, and when it was given. */
  private async ticket(app: string, form: string, save: string, at: number): Promise<string> {
    const signature = createHmac('sha256', await this.secret())
      .update([app, form, save, at].join(' '))
      .digest('base64url');
    return [save, at, signature].join('.');
  }

  /** The key of the save that a ticket is for. @throws Refusal bad_request, too_many */
  private async keyOf(app: string, form: string, ticket: string): Promise<string> {
    const [save = '', at = '', signature = ''] = ticket.split('.');
    const real = Buffer.from(await this.ticket(app, form, save, Number(at)));
    const given = Buffer.from([save, Number(at), signature].join('.'));
    if (real.length !== given.length || !timingSafeEqual(real, given))
      throw new Refusal('bad_request', 'This page was not made by this form. Load the page again.');
    const age = Date.now() - Number(at);
    if (age > longestTime) throw new Refusal('bad_request', 'This page was opened more than a week ago. Copy what you wrote, and load the page again.');
    if (age < leastFillTime) throw new Refusal('too_many', 'That was very fast. Wait a moment and send it again.');
    return save;
  }

  /** What tickets are signed with; the same for all server processes. */
  private secret(): Promise<string> {
    this.key ??= this.makeSecret().catch((error: unknown) => {
      this.key = null;
      throw error;
    });
    return this.key;
  }

  private async makeSecret(): Promise<string> {
    const settings = this.database.getRepository(Settings);
    const name = 'public_form_key';
    await settings
      .createQueryBuilder()
      .insert()
      .values({ name, value: randomBytes(32).toString('base64url') })
      .orIgnore()
      .execute();
    return (await settings.findOneByOrFail({ name })).value;
  }
}

const hasEnded = ({ design }: OpenedApp, { public: { closedFrom } }: OpenToAll): boolean =>
  closedFrom !== undefined && localeOf(design.region, design.timeZone).today() >= closedFrom;
const closed = (form: OpenToAll): Refusal => new Refusal('forbidden', form.public.closedText ?? 'This form is closed.');
const same = (each: string, other: string): boolean => each.trim().toLowerCase() === other.trim().toLowerCase();
