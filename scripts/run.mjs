// @ts-check
/**
 * The first thing every command runs, with nothing but Node: installs the npm packages when the lock file has changed,
 * then hands over to the TypeScript of the same name.
 */
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const [name = 'start', ...rest] = process.argv.slice(2);

if (Number(process.versions.node.split('.')[0]) < 20) {
  console.error(`Bibliona needs Node 20 or newer; this is ${process.version}.`);
  process.exit(1);
}

const stamp = join(root, 'node_modules', '.bibliona-installed');
const lock = createHash('sha256')
  .update(readFileSync(join(root, 'package-lock.json')))
  .digest('hex');
if (!existsSync(stamp) || readFileSync(stamp, 'utf8') !== lock) {
  console.log('Installing npm packages, a minute or two the first time ...');
  const npm = spawnSync('npm', ['ci', '--no-fund', '--no-audit', '--loglevel=error'], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, NODE_ENV: 'development' },
  });
  if (npm.status !== 0) {
    console.error('The packages could not be installed. Check the connection to the npm registry and run the command again.');
    process.exit(1);
  }
  writeFileSync(stamp, lock);
}

const child = spawn(process.execPath, ['--import', 'tsx', join(root, 'scripts', `${name}.ts`), ...rest], { cwd: root, stdio: 'inherit' });
// Ctrl-C reaches the child by itself, being in the same group; this process only waits for it to finish in order.
for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM', 'SIGHUP']))
  process.on(signal, () => (signal === 'SIGINT' && process.stdin.isTTY ? undefined : child.kill(signal)));
child.on('exit', (code, signal) => process.exit(code ?? (signal === null ? 1 : 130)));
