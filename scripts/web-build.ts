import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, constants } from 'node:zlib';
import { builtOnce } from './build-stamp.js';
import { CannotGoOn } from './packages.js';

const compressed = promisify(brotliCompress);

/** Puts beside each script and style sheet what browsers are sent of it: compressing it anew for each would be slower, and weaker. */
async function compressAssets(dist: string): Promise<void> {
  const assets = readdirSync(join(dist, 'assets')).filter((name) => /\.(?:js|css)$/u.test(name));
  await Promise.all(
    assets.map(async (name) => {
      const path = join(dist, 'assets', name);
      const bytes = readFileSync(path);
      // 11, the strongest, takes three times as long for one part in fifty.
      const params = { [constants.BROTLI_PARAM_QUALITY]: 10, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length };
      writeFileSync(`${path}.br`, await compressed(bytes, { params }));
    }),
  );
}

/** Builds the web side unless the build at hand is of the same sources. */
export function buildWeb(root: string): Promise<string> {
  const dist = join(root, 'web', 'dist');
  return builtOnce(root, dist, ['core/src/', 'web/src/', 'web/index.html', 'web/vite.config.ts', 'scripts/web-build.ts'], async () => {
    console.log('Building the web side ...');
    const building = spawn(process.execPath, [join(root, 'node_modules', 'vite', 'bin', 'vite.js'), 'build', '--logLevel', 'warn'], {
      cwd: join(root, 'web'),
      stdio: 'inherit',
    });
    const [status] = (await once(building, 'exit')) as [number | null];
    if (status !== 0) throw new CannotGoOn('The web side could not be built; the reasons are above.');
    await compressAssets(dist);
  });
}
