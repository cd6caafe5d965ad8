/** `npm run bench [import|exchange|save|list|groups|expressions|queries|reports|dashboards|neighbours|apps|live|files|pickers|screens|forms|changes]`: each figure as a ratio of two ways in one run, written to docs/benchmarks.md. */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { benchApps } from './bench/apps.js';
import { benchChanges } from './bench/changes.js';
import { benchDashboards } from './bench/dashboards.js';
import { benchExpressions } from './bench/expressions.js';
import { benchImport } from './bench/import.js';
import { benchExchange } from './bench/exchange.js';
import { benchFiles } from './bench/files.js';
import { benchForms } from './bench/forms.js';
import { benchGroups } from './bench/groups.js';
import { benchLive } from './bench/live.js';
import { benchList } from './bench/list.js';
import { benchNeighbours } from './bench/neighbours.js';
import { benchPickers } from './bench/pickers.js';
import { benchQueries } from './bench/queries.js';
import { benchReports } from './bench/reports.js';
import { benchAutomations } from './bench/automations.js';
import { benchSave } from './bench/save.js';
import { benchScreens } from './bench/screens.js';
import { openBench, type Line } from './bench/bench.js';
import { CannotGoOn } from './packages.js';

const root = fileURLToPath(new URL('..', import.meta.url));
const all = {
  import: benchImport,
  exchange: benchExchange,
  save: benchSave,
  automations: benchAutomations,
  list: benchList,
  groups: benchGroups,
  expressions: benchExpressions,
  queries: benchQueries,
  reports: benchReports,
  dashboards: benchDashboards,
  neighbours: benchNeighbours,
  apps: benchApps,
  live: benchLive,
  files: benchFiles,
  pickers: benchPickers,
  screens: benchScreens,
  forms: benchForms,
  changes: benchChanges,
} as const;
type Name = keyof typeof all;

const file = join(root, 'docs', 'benchmarks.md');
const heading = `# Benchmarks

Made by \`npm run bench\`. Each line is the median of its runs, the two ways in turn within one run on one machine, so
that the ratio can be compared from machine to machine and the times cannot.

| measured | date | this | against | ratio | budget | also |
| --- | --- | --- | --- | --- | --- | --- |
`;

/** Keeps the lines of benchmarks that were not run this time. */
function write(lines: readonly Line[]): void {
  const before = existsSync(file) ? readFileSync(file, 'utf8') : '';
  // What is written below the table by hand stays.
  const notes = before.includes('\n## ') ? before.slice(before.indexOf('\n## ')) : '';
  const old = before
    .slice(0, before.length - notes.length)
    .split('\n')
    .filter((line) => line.startsWith('| ') && !line.startsWith('| measured') && !line.startsWith('| ---'));
  const date = new Date().toISOString().slice(0, 10);
  const now = lines.map((line) => `| ${line.what} | ${date} | ${line.ours} | ${line.theirs} | ${line.ratio.toFixed(2)} | ${line.budget} | ${line.also} |`);
  const kept = old.filter((line) => !now.some((each) => each.split('|')[1] === line.split('|')[1]));
  writeFileSync(
    file,
    `${heading}${[...kept, ...now].sort().join('\n')}\n\nThe machine of the last run: ${cpus().length} cores, Node ${process.versions.node}.\n${notes}`,
  );
}

async function main(): Promise<void> {
  const asked = process.argv.slice(2);
  const unknown = asked.find((name) => !(name in all));
  if (unknown !== undefined) throw new CannotGoOn(`There is no benchmark "${unknown}". There are: ${Object.keys(all).join(', ')}.`);
  const names = (asked.length === 0 ? Object.keys(all) : asked) as Name[];
  const bench = await openBench(root);
  try {
    const lines: Line[] = [];
    for (const name of names) {
      console.log(`\n${name}`);
      for (const line of await all[name](bench)) {
        console.log(`  ${line.what}: ${line.ours} against ${line.theirs}, ratio ${line.ratio.toFixed(2)} (budget ${line.budget}) ${line.also}`);
        lines.push(line);
      }
    }
    write(lines);
    console.log(`\nWritten to docs/benchmarks.md`);
  } finally {
    await bench.close();
  }
}

main().then(
  () => process.exit(0),
  (error: unknown) => {
    console.error(error instanceof CannotGoOn ? error.message : error);
    process.exit(1);
  },
);
