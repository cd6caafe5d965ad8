/** Files that people upload: taken as they stream in, looked at, and kept once for all who hold them. */
import { designFor, imagesOn, kindOf, largestFile, permit, type HeldFile, type OpenToAll, type Person } from '@bibliona/core';
import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rm, stat, writeFile } from 'node:fs/promises';
import type { IncomingMessage } from 'node:http';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { runOwn } from '../db/own.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { RecordReader } from '../records/read.js';
import { look } from './look.js';
import type { FileStore } from './store.js';

/** How long a file that no record names is kept, in milliseconds. */
const unsavedFor = 86_400_000;
/** What one person can have uploaded and not saved, in bytes and in files. */
const mostUnsaved = { bytes: 4_000_000_000, files: 2000 };

const previewKey = (hash: string): string => `${hash}.preview`;

export interface SentFile {
  readonly file: HeldFile;
  readonly content: () => Promise<Readable>;
  readonly isPreview: boolean;
}

export class FilesService {
  /** @param folder where a file lies until it is kept */
  constructor(
    private readonly database: DataSource,
    private readonly store: FileStore,
    private readonly folder: string,
  ) {}

  /** @throws Refusal forbidden, invalid, too_large, too_many */
  async upload(app: OpenedApp, person: Person, name: string, body: IncomingMessage): Promise<HeldFile> {
    await this.mayUpload(app, person);
    await mkdir(this.folder, { recursive: true, mode: 0o700 });
    const path = join(this.folder, `upload-${randomUUID()}`);
    try {
      const { hash, size } = await received(body, path);
      if (size === 0) throw new Refusal('invalid', `“${name}” is empty.`);
      const seen = await look(path, nameOf(name));
      await this.keep(hash, size, seen.ending, path, seen.preview);
      await runOwn(
        this.database,
        'file is uploaded',
        `INSERT INTO bibliona.file_use (app_id, hash, person_id) VALUES ($1, $2, $3) ON CONFLICT (app_id, hash, person_id) DO UPDATE SET uploaded_at = now()`,
        [app.id, hash, person.id],
      );
      return { name: seen.name, hash, size };
    } finally {
      await Promise.all([path, previewKey(path)].map((each) => rm(each, { force: true })));
    }
  }

  /** Only builders, for the images on forms, and who can write a field that holds files upload any, and not without end. */
  private async mayUpload({ id, design }: OpenedApp, person: Person): Promise<void> {
    const canHold =
      person.role === 'builder' ||
      design.tables.some(
        (table) =>
          table.fields.some((field) => kindOf(field).files !== undefined) &&
          (permit(design, person, table, 'add') !== null || permit(design, person, table, 'change') !== null),
      );
    if (!canHold) throw new Refusal('forbidden', 'There is no field that you can add files to.');
    const [unsaved] = await runOwn<{ files: number; bytes: number }>(
      this.database,
      'files not saved yet',
      `SELECT count(*)::int AS files, coalesce(sum(file.size), 0)::float8 AS bytes FROM bibliona.file_use AS used JOIN bibliona.file USING (hash) WHERE used.app_id = $1 AND used.person_id = $2 AND NOT used.is_saved`,
      [id, person.id],
    );
    if (unsaved !== undefined && (unsaved.files >= mostUnsaved.files || unsaved.bytes >= mostUnsaved.bytes))
      throw new Refusal('too_many', 'You have added many files without saving the records that hold them. Save those first, or go on tomorrow.');
  }

  /** Whoever comes second with the same content waits for the first and finds it there. */
  private async keep(hash: string, size: number, ending: string, path: string, preview: Buffer | null): Promise<void> {
    const [known] = await runOwn<{ is_stored: boolean }>(
      this.database,
      'file is known',
      `INSERT INTO bibliona.file (hash, size, ending, has_preview) VALUES ($1, $2, $3, $4) ON CONFLICT (hash) DO UPDATE SET touched_at = now() RETURNING is_stored`,
      [hash, size, ending, preview !== null],
    );
    if (known?.is_stored === true) return;
    await this.store.put(hash, path);
    if (preview !== null) {
      await writeFile(previewKey(path), preview, { mode: 0o600 });
      await this.store.put(previewKey(hash), previewKey(path));
    }
    await runOwn(this.database, 'file is kept', 'UPDATE bibliona.file SET is_stored = true WHERE hash = $1', [hash]);
  }

  /** A file of a record. @throws Refusal not_found, also for a file that is not there or that this person does not see */
  async read(app: OpenedApp, person: Person, at: { table: string; id: number; field: string; hash: string }, asPreview: boolean): Promise<SentFile> {
    const reader = new RecordReader(this.database, app, person);
    const field = reader.table(at.table).fields.find((each) => each.id === at.field);
    const held = field === undefined ? undefined : kindOf(field).files;
    if (held === undefined) throw missing();
    const record = await reader.record(at.table, at.id);
    const file = held.in(record.values[at.field]).find((heldFile) => heldFile.hash === at.hash);
    return file === undefined ? this.readFreeFile(app, person, at.hash, asPreview) : this.sent(file, asPreview);
  }

  /** A file that this person uploaded, or an image on a form that they see. @throws Refusal not_found */
  async readFreeFile(app: OpenedApp, person: Person, hash: string, asPreview: boolean): Promise<SentFile> {
    const image = imagesOn(designFor(app.design, person).forms).find((each) => each.hash === hash);
    if (image !== undefined) return this.sent(image, asPreview);
    const [uploaded] = await runOwn<{ size: number; ending: string }>(
      this.database,
      'file that a person uploaded',
      'SELECT file.size, file.ending FROM bibliona.file_use AS used JOIN bibliona.file USING (hash) WHERE used.app_id = $1 AND used.person_id = $2 AND used.hash = $3',
      [app.id, person.id, hash],
    );
    if (uploaded === undefined) throw missing();
    return this.sent({ name: uploaded.ending === '' ? 'file' : `file.${uploaded.ending}`, hash, size: uploaded.size }, asPreview);
  }

  /** An image on a public form. @throws Refusal not_found */
  readPublicImage(form: OpenToAll, hash: string): Promise<SentFile> {
    const image = imagesOn([form]).find((each) => each.hash === hash);
    if (image === undefined) throw missing();
    return this.sent(image, false);
  }

  private async sent(file: HeldFile, isPreview: boolean): Promise<SentFile> {
    const [stored] = await runOwn<{ has_preview: boolean }>(
      this.database,
      'file that is kept',
      'SELECT has_preview FROM bibliona.file WHERE hash = $1 AND is_stored',
      [file.hash],
    );
    if (stored === undefined || (isPreview && !stored.has_preview)) throw missing();
    return { file, content: () => this.store.read(isPreview ? previewKey(file.hash) : file.hash), isPreview };
  }

  /** Deletes what was uploaded and never saved. */
  async forget(now: Date): Promise<void> {
    const before = new Date(now.getTime() - unsavedFor);
    await runOwn(this.database, 'uses never saved', 'DELETE FROM bibliona.file_use WHERE NOT is_saved AND uploaded_at < $1', [before]);
    const unheld = `touched_at < $1 AND NOT EXISTS (SELECT FROM bibliona.file_use AS used WHERE used.hash = file.hash)
      AND NOT EXISTS (SELECT FROM bibliona.design_file AS held WHERE held.hash = file.hash)`;
    const gone = await runOwn<{ hash: string }>(this.database, 'files of nobody', `SELECT hash FROM bibliona.file WHERE ${unheld}`, [before]);
    for (const { hash } of gone)
      await inTransaction(this.database, async (_, runner) => {
        // Held by its row, so that nobody uploads the same content meanwhile.
        const deleted = await runOwn<object>(runner, 'file of nobody', `DELETE FROM bibliona.file WHERE hash = $2 AND ${unheld} RETURNING hash`, [
          before,
          hash,
        ]);
        if (deleted.length > 0) await this.store.remove([hash, previewKey(hash)]);
      });
  }

  /** Deletes from the folder of this server what is left of uploads that broke off. */
  async forgetUploads(now: Date): Promise<void> {
    const before = now.getTime() - unsavedFor;
    for (const name of await readdir(this.folder).catch((): string[] => [])) {
      if (!name.startsWith('upload-')) continue;
      const path = join(this.folder, name);
      const { mtimeMs } = await stat(path).catch(() => ({ mtimeMs: now.getTime() }));
      if (mtimeMs < before) await rm(path, { force: true });
    }
  }
}

const missing = (): Refusal => new Refusal('not_found', "This file no longer exists, or you don't have access to it.");

/** A name without what would make it a path, or could not be shown. */
const nameOf = (name: string): string =>
  name
    .replace(/[\p{Cc}/\\]+/gu, ' ')
    .trim()
    .slice(-200) || 'file';

/** Writes the body of a request to the disk. @throws Refusal too_large */
async function received(body: IncomingMessage, path: string): Promise<{ readonly hash: string; readonly size: number }> {
  const hash = createHash('sha256');
  let size = 0;
  await pipeline(
    body,
    async function* (chunks: AsyncIterable<Buffer>) {
      for await (const chunk of chunks) {
        size += chunk.length;
        if (size > largestFile * 1_000_000) throw new Refusal('too_large', `Files can have up to ${largestFile} MB.`);
        hash.update(chunk);
        yield chunk;
      }
    },
    createWriteStream(path, { mode: 0o600 }),
  );
  return { hash: hash.digest('hex'), size };
}
