/** `npm test`: types, lint, dependency rules, unused parts, unit, server and browser tests; ends with what failed and `N passed, N failed`. */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { openCluster, type Cluster } from './cluster.js';
import { CannotGoOn, chromiumProgram } from './packages.js';
import { buildServer } from './server-build.js';
import { buildWeb } from './web-build.js';

const root = fileURLToPath(new URL('..', import.meta.url));
const bin = (name: string): string => join(root, 'node_modules', '.bin', name);

interface Outcome {
  readonly name: string;
  readonly passed: number;
  readonly failed: number;
  /** What failed, each with the beginning of why. */
  readonly failures: readonly string[];
}

/** Runs a program and shows what it says; its exit code counts as one check. */
function check(name: string, command: string, args: readonly string[]): Promise<Outcome> {
  return new Promise((resolve) => {
    const started = Date.now();
    const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
    let output = '';
    child.stdout.on('data', (chunk: Buffer) => (output += chunk.toString()));
    child.stderr.on('data', (chunk: Buffer) => (output += chunk.toString()));
    child.on('close', (code) => {
      console.log(`${code === 0 ? 'ok    ' : 'FAILED'} ${name} (${((Date.now() - started) / 1000).toFixed(1)} s)`);
      if (code !== 0) console.log(output);
      resolve({ name, passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1, failures: code === 0 ? [] : [name] });
    });
  });
}

/** Runs test files and counts their tests from the runner's own report. */
async function tests(name: string, project: string, env: Readonly<Record<string, string>>, files: readonly string[]): Promise<Outcome> {
  const report = join(root, '.data', `tests-${project}.json`);
  rmSync(report, { force: true });
  const started = Date.now();
  const code = await new Promise<number | null>((resolve) => {
    const child = spawn(
      process.execPath,
      [
        join(root, 'node_modules', 'vitest', 'vitest.mjs'),
        'run',
        '--project',
        project,
        '--reporter=default',
        '--reporter=json',
        `--outputFile.json=${report}`,
        // With words to choose by, a part without such files has nothing to do.
        ...(files.length > 0 ? ['--passWithNoTests'] : []),
        ...files,
      ],
      { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } },
    );
    child.on('close', resolve);
  });
  const counted = readReport(report);
  // A runner that ends badly without a failed test has failed itself, and so has one that found nothing to run.
  const hasRun = counted.passed > 0 || files.length > 0;
  const failures = counted.failures.length === 0 && (code !== 0 || !hasRun) ? [`${name}: the runner ended with ${code}`] : counted.failures;
  const failed = failures.length;
  console.log(`${failed === 0 ? 'ok    ' : 'FAILED'} ${name}: ${counted.passed} passed, ${failed} failed (${((Date.now() - started) / 1000).toFixed(1)} s)`);
  return { name, passed: counted.passed, failed, failures };
}

/** What of the runner's report is read here. */
interface Report {
  readonly numPassedTests: number;
  readonly testResults: readonly {
    readonly name: string;
    readonly status: string;
    readonly message: string;
    readonly assertionResults: readonly { readonly fullName: string; readonly status: string; readonly failureMessages: readonly string[] }[];
  }[];
}

function readReport(file: string): { readonly passed: number; readonly failures: readonly string[] } {
  if (!existsSync(file)) return { passed: 0, failures: [] };
  const report = JSON.parse(readFileSync(file, 'utf8')) as Report;
  const failures = report.testResults.flatMap(({ name, status, message, assertionResults }) => {
    const tests = assertionResults
      .filter((test) => test.status === 'failed')
      .map(({ fullName, failureMessages }) => `${relative(root, name)}: ${fullName}\n${begins(failureMessages[0] ?? '')}`);
    // A file that could not be read has no test that failed, and one that failed to begin or end names none.
    return tests.length === 0 && status === 'failed' ? [`${relative(root, name)}\n${begins(message)}`] : tests;
  });
  return { passed: report.numPassedTests, failures };
}

/** The beginning of why a test failed, and where: without the lines of the runner itself. */
const begins = (text: string): string =>
  text
    .split('\n')
    .filter((line) => !line.includes('/node_modules/'))
    .slice(0, 16)
    .join('\n');

/** With words after the command only the tests whose file names hold one of them. */
async function main(): Promise<number> {
  const files = process.argv.slice(2);
  mkdirSync(join(root, '.data'), { recursive: true });
  const outcomes: Outcome[] = [];
  const own: { cluster?: Cluster } = {};
  try {
    // A cluster of its own, so that no test is ever near anyone's data; what it holds need not survive a power cut.
    const openOwn = async (): Promise<void> => {
      if (process.env['DATABASE_URL'] === undefined)
        own.cluster = await openCluster(root, 'test', { fsync: 'off', full_page_writes: 'off', synchronous_commit: 'off' });
    };
    const built = { WEB: '', SERVER_BUILD: '' };
    const checks = [
      // Types are read with the rest: a compiler of its own would read every file a second time.
      () => check('types and lint', bin('oxlint'), ['--deny-warnings', '--report-unused-disable-directives']),
      () => check('format', bin('oxfmt'), ['--check']),
      () => check('dependency rules', bin('depcruise'), ['--config', '.dependency-cruiser.cjs', 'core/src', 'server/src', 'web/src', 'demo/src']),
      () => check('unused parts', bin('knip'), ['--no-progress']),
    ].map((run) => async () => void outcomes.push(await run()));
    // In two lanes: the first check takes about as long as the rest together.
    const waiting = [
      openOwn,
      ...(files.length === 0 ? checks : []),
      async () => void (built.WEB = await buildWeb(root)),
      async () => void (built.SERVER_BUILD = await buildServer(root)),
    ];
    const worker = async (): Promise<void> => {
      for (let next = waiting.shift(); next !== undefined; next = waiting.shift()) await next();
    };
    await Promise.all([worker(), worker()]);
    const database = process.env['DATABASE_URL'] ?? own.cluster?.url('postgres') ?? '';
    const env = { TEST_DATABASE: database, CHROMIUM: chromiumProgram(), ...built };
    outcomes.push(await tests('unit tests', 'unit', env, files));
    outcomes.push(await tests('server tests', 'server', env, files));
    outcomes.push(await tests('browser tests', 'browser', env, files));
  } finally {
    await own.cluster?.stop();
  }
  const [passed, failed] = [outcomes.reduce((sum, outcome) => sum + outcome.passed, 0), outcomes.reduce((sum, outcome) => sum + outcome.failed, 0)];
  for (const failure of outcomes.flatMap((outcome) => outcome.failures)) console.log(`\nFAILED ${failure}`);
  console.log(`\n${passed} passed, ${failed} failed`);
  return failed === 0 && passed > 0 ? 0 : 1;
}

process.on('SIGINT', () => process.exit(130));
main().then(
  (code) => process.exit(code),
  (error: unknown) => {
    console.error(error instanceof CannotGoOn ? error.message : error);
    console.log('\n0 passed, 1 failed');
    process.exit(1);
  },
);
