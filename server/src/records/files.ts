/** The files that a save names: nobody gets at a file by writing its hash into a record. */
import { kindOf, endingOf, type HeldFile, type Person, type PlacedIssue, type Table, type Write } from '@bibliona/core';
import { runOwn } from '../db/own.js';
import type { Runner } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';
import { asStored } from './as-stored.js';
import { tableIn } from './batch.js';

interface Named {
  readonly write: number;
  readonly field: string;
  readonly files: readonly HeldFile[];
}

/** The files that are named in the values of a write. */
function namedIn(table: Table, values: Readonly<Record<string, unknown>>): readonly Omit<Named, 'write'>[] {
  return table.fields.flatMap((field) => {
    const files = field.id in values ? (kindOf(field).files?.in(values[field.id]) ?? []) : [];
    return files.length === 0 ? [] : [{ field: field.id, files }];
  });
}

const valuesOf = (write: Write) => (write.kind === 'add' || write.kind === 'change' ? write.values : {});

export class SaveFiles {
  constructor(
    private readonly app: OpenedApp,
    private readonly person: Person,
  ) {}

  concerns(writes: readonly Write[]): boolean {
    return writes.some((write) => namedIn(tableIn(this.app, write.table), valuesOf(write)).length > 0);
  }

  /** A file can be named by who uploaded it to this app, and stays where it is already. From then on it is kept. */
  async admit(runner: Runner, writes: readonly Write[]): Promise<readonly PlacedIssue[]> {
    const issues: PlacedIssue[] = [];
    for (const [at, write] of writes.entries()) {
      const table = tableIn(this.app, write.table);
      const named = namedIn(table, valuesOf(write));
      if (named.length === 0) continue;
      const before = write.kind === 'change' ? await asStored(runner, this.app, this.person, table, write.id) : null;
      for (const { field, files } of named) {
        const held = kindOf(table.fields.find((each) => each.id === field) ?? fail(field)).files?.in(before?.values[field]) ?? [];
        const added = files.filter(
          (file) => !held.some((heldFile) => heldFile.hash === file.hash && heldFile.size === file.size && heldFile.name === file.name),
        );
        const unknown = await this.unknown(runner, added);
        if (unknown !== undefined) issues.push({ write: at, field, message: `“${unknown.name}” is no longer on the server. Add it again.` });
      }
    }
    return issues;
  }

  /** The first file that this person did not upload as it is named here. */
  private async unknown(runner: Runner, files: readonly HeldFile[]): Promise<HeldFile | undefined> {
    if (files.length === 0) return undefined;
    const known = await runOwn<{ hash: string; size: number; ending: string }>(
      runner,
      'files are saved',
      `UPDATE bibliona.file_use AS used SET is_saved = true FROM bibliona.file WHERE file.hash = used.hash AND file.is_stored AND used.app_id = $1 AND used.person_id = $2 AND used.hash = ANY($3) RETURNING file.hash, file.size, file.ending`,
      [this.app.id, this.person.id, files.map((file) => file.hash)],
    );
    return files.find((file) => !known.some(({ hash, size, ending }) => hash === file.hash && size === file.size && ending === endingOf(file.name)));
  }
}

const fail = (field: string): never => {
  throw new Error(`There is no field ${field}`);
};
