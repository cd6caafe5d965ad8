/** Whether what was built before is of the sources that are there now. */
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

function hashOf(root: string, sources: readonly string[]): string {
  const hash = createHash('sha256');
  const visit = (path: string): void => {
    for (const entry of readdirSync(join(root, path), { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const inner = join(path, entry.name);
      if (entry.isDirectory()) visit(inner);
      else hash.update(inner).update(readFileSync(join(root, inner)));
    }
  };
  for (const source of sources) {
    if (source.endsWith('/')) visit(source.slice(0, -1));
    else hash.update(readFileSync(join(root, source)));
  }
  return hash.digest('hex');
}

/** Builds into a folder unless the build there is of the same sources: folders, which end with a slash, and files. */
export async function builtOnce(root: string, dist: string, sources: readonly string[], build: () => Promise<void>): Promise<string> {
  const stamp = join(dist, '.built-from');
  const hash = hashOf(root, [...sources, 'package-lock.json', 'scripts/build-stamp.ts']);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return dist;
  await build();
  writeFileSync(stamp, hash);
  return dist;
}
