import { join } from 'node:path';
import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/**
 * Few lines that work for long: they begin first, so that at the end no processor waits for one of them. The others follow as the
 * runner has them, large files first.
 */
const long = [
  'crash',
  'matrix',
  'write-matrix',
  'mails',
  'kinds',
  'database-killed',
  'large-tables',
  'under-way',
  'running-numbers',
  'stopping',
  'cut-off',
  'stations',
  'accounts',
];
class LongFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const isLong = ({ moduleId }: TestSpecification): boolean => long.some((name) => moduleId.endsWith(`/${name}.test.ts`));
    const sorted = await super.sort(files);
    return [...sorted.filter(isLong), ...sorted.filter((file) => !isLong(file))];
  }
}

/**
 * What tests of the server and the browser load as it is built: many times faster than hundreds of sources, in each process of
 * tests anew. The sources of the server itself are what its own tests are about.
 */
const built = (name: string): string => join(process.env['SERVER_BUILD'] ?? '', `${name}.js`);
const asBuilt = ['server', 'core', 'demo'].map((name) => ({ find: new RegExp(`^@bibliona/${name}$`, 'u'), replacement: built(name) }));

export default defineConfig({
  test: {
    sequence: { sequencer: LongFirst },
    projects: [
      // Properties of whole designs take seconds, and many times that on a machine that others use too.
      // The modules under test are loaded once for many files: they keep nothing that one test could leave to another.
      {
        test: {
          name: 'unit',
          include: ['{core,demo,web,scripts}/**/*.test.ts'],
          exclude: ['**/node_modules/**'],
          testTimeout: 60_000,
          isolate: false,
          maxWorkers: 2,
        },
      },
      // Each file has a database of its own, so files can run beside each other.
      {
        resolve: { alias: asBuilt },
        test: {
          name: 'server',
          include: ['server/**/*.test.ts'],
          globalSetup: 'server/test/before-all.ts',
          server: { deps: { external: [/server\/dist\//u] } },
          testTimeout: 60_000,
          hookTimeout: 60_000,
          pool: 'forks',
          maxWorkers: 3,
          isolate: false,
        },
      },
      {
        resolve: { alias: [...asBuilt, { find: /^@bibliona\/core\/language$/u, replacement: built('language') }] },
        test: {
          name: 'browser',
          server: { deps: { external: [/server\/dist\//u] } },
          include: ['e2e/**/*.test.ts'],
          globalSetup: 'e2e/src/before-all.ts',
          setupFiles: 'e2e/src/each-test.ts',
          testTimeout: 180_000,
          hookTimeout: 120_000,
          // What is asked of a page again and again may take as long as whatever else is waited for there.
          expect: { poll: { timeout: 30_000, interval: 150 } },
          pool: 'forks',
          maxWorkers: 2,
          isolate: false,
        },
      },
    ],
  },
});
