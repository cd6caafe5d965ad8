/** The mails of a step: to people of the app no more than they can see, to an address of nobody here what was written down. */
import {
  askedByLetter,
  compileResult,
  isAddress,
  letterOf,
  localeFor,
  restrictForMail,
  type Automation,
  type Letter,
  type Person,
  type StepDone,
  type StepEffect,
  type Value,
} from '@bibliona/core';
import { runOwn } from '../db/own.js';
import { runPrepared, type Runner } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';
import { putMails } from '../mail/outbox.js';

type MailEffect = Extract<StepEffect, { kind: 'mail' }>;

interface Writing extends MailEffect {
  readonly app: OpenedApp;
  /** By whose doing it is written. */
  readonly writer: Person;
  readonly automation: Automation;
  readonly run: string;
  /** The record that it is about. */
  readonly record: number;
}

const readersOf = `
  SELECT p.id, p.name, p.email AS mail, p.region, m.role, m.roles, m.ties FROM bibliona.app_person AS m JOIN bibliona.person AS p ON p.id = m.person_id
  WHERE m.app_id = $1 AND ($2 = ANY(m.roles) OR p.email = ANY($3::text[])) ORDER BY p.email`;

/** Puts the mails among those to be sent, within the transaction of `runner`; readers of the same words share them in what is told. */
export async function writeLetters(runner: Runner, writing: Writing): Promise<StepDone> {
  const { app, to, letter, run } = writing;
  const [role, addresses] = 'kind' in to ? [to.role, []] : [null, to];
  const readers = await runOwn<Person>(runner, 'readers of mail', readersOf, [app.id, role, addresses.map((address) => address.toLowerCase())]);
  const strangers = addresses.filter((address) => !readers.some((reader) => reader.mail === address.toLowerCase()));
  const read: { readonly to: string; readonly letter: Letter | null }[] = strangers.filter(isAddress).map((stranger) => ({ to: stranger, letter }));
  for (const reader of readers) read.push({ to: reader.mail, letter: reader.role === 'builder' ? letter : await letterFor(runner, writing, reader) });
  const letters = new Map<string, Letter & { readonly to: string[] }>();
  for (const each of read) {
    if (each.letter === null) continue;
    const key = JSON.stringify(each.letter);
    letters.set(key, { ...each.letter, to: [...(letters.get(key)?.to ?? []), each.to] });
  }
  const written = [...letters.values()];
  for (const { to: whom, subject, body } of written) await putMails(runner, { app: app.id, kind: 'automation', run, to: whom, subject, body });
  return {
    kind: 'mail',
    to: written.flatMap((each) => each.to),
    noAddress: strangers.filter((stranger) => !isAddress(stranger)),
    unseen: read.filter((each) => each.letter === null).map((each) => each.to),
    subject: letter.subject,
    letters: written,
  };
}

/** A mail as far as its reader can see the record; null when they can't see it at all. */
async function letterFor(runner: Runner, { app, writer, automation, step, record }: Writing, reader: Person): Promise<Letter | null> {
  const asked = restrictForMail(askedByLetter(automation, step, record, app.design), app.design, reader, writer, Date.now());
  const [row] = await runPrepared<{ cells: readonly Value[] }>(runner, compileResult([asked, app.design, app.schema], { limit: 1 }));
  return row === undefined ? null : letterOf(automation, step, row.cells, app.design, localeFor(app.design, reader));
}
