/** What is needed from Debian: found, installed where that is allowed, or asked for with the exact command. */
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

/** Raised with a message that says what to do; shown without a stack. */
export class CannotGoOn extends Error {}

function install(what: string, debianPackage: string): void {
  const command = `apt-get install -y --no-install-recommends ${debianPackage}`;
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) {
    throw new CannotGoOn(`${what} is missing. Install it with:\n\n  sudo apt-get update && sudo ${command}\n\nand run the command again.`);
  }
  console.log(`Installing ${what} from Debian's packages ...`);
  const run = (text: string): boolean =>
    spawnSync('sh', ['-c', text], { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } }).status === 0;
  if (!run('apt-get update -qq') || !run(`${command} -qq`))
    throw new CannotGoOn(`${what} could not be installed. Try it by hand:\n\n  apt-get update && ${command}`);
}

function findPostgres(): string | null {
  const home = '/usr/lib/postgresql';
  const versions = existsSync(home) ? readdirSync(home).filter((name) => existsSync(join(home, name, 'bin', 'initdb'))) : [];
  const newest = versions.sort((a, b) => Number(b) - Number(a))[0];
  if (newest !== undefined) return join(home, newest, 'bin');
  const found = spawnSync('sh', ['-c', 'command -v initdb'], { encoding: 'utf8' }).stdout.trim();
  return found === '' ? null : join(found, '..');
}

/** The folder of PostgreSQL's programs. @throws CannotGoOn */
export function postgresPrograms(): string {
  const found = findPostgres();
  if (found !== null) return found;
  install('PostgreSQL', 'postgresql');
  const now = findPostgres();
  if (now === null) throw new CannotGoOn('PostgreSQL was installed but its programs are not where they are expected (/usr/lib/postgresql).');
  return now;
}

/** The Chromium that browser tests and screenshots drive. @throws CannotGoOn */
export function chromiumProgram(): string {
  const given = process.env['CHROMIUM'];
  // Chromium without its windows does the same work in nine tenths of the time.
  const places = given === undefined ? ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'] : [given];
  const found = (): string | undefined => places.find((path) => existsSync(path));
  if (found() === undefined && given === undefined) install('Chromium', 'chromium-headless-shell');
  const path = found();
  if (path === undefined) throw new CannotGoOn(`Chromium is not at ${places.join(' or ')}. Set CHROMIUM to where it is.`);
  return path;
}

/** How Chromium is started: without a window, and without asking anything of the network by itself. */
export const chromiumArguments = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  // Letters as wide as in a window: without one Chromium would move each to a whole pixel.
  '--font-render-hinting=none',
];
