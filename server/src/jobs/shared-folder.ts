import { randomUUID } from 'node:crypto';
import { linkSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { z } from 'zod';

/** The name of a folder, so that the servers that use it, and no others, work on the files in it. */
export function nameOfFolder(folder: string): string {
  const path = join(folder, 'name');
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  // Several processes may begin at once, and any may be killed: the name is there as a whole or not at all.
  const draft = join(folder, `name-${randomUUID()}`);
  writeFileSync(draft, randomUUID(), { mode: 0o600 });
  try {
    linkSync(draft, path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  } finally {
    rmSync(draft);
  }
  return z.uuid().parse(readFileSync(path, 'utf8'));
}
