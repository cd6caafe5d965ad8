import { fork } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { aSave } from './fire.js';
import { makeTable, median, pause, personIn, time, type Bench, type Line } from './bench.js';

const [people, screensEach] = [20, 10];
const [runs, seconds, savesPerSecond] = [5, 6, 20];

/** What others pay for 200 open screens while records are saved: how much longer a save takes than with none open. */
export async function benchLive(bench: Bench): Promise<Line[]> {
  const { app } = await makeTable(bench, 'Watched');
  const cookies: string[] = [];
  for (let i = 0; i < people; i += 1) cookies.push(await personIn(bench, app.id, `watcher-${i}`, 'builder'));
  const watching = fork(fileURLToPath(new URL('./watch.ts', import.meta.url)), { execArgv: ['--import', 'tsx'] });
  const told = async (message: object): Promise<{ readonly events: number }> => {
    watching.send(message);
    const [answer] = (await once(watching, 'message')) as [{ readonly events: number }];
    return answer;
  };
  const path = `/api/apps/${app.id}/save`;
  await saving(bench, path);
  const [watched, alone]: [Saving[], Saving[]] = [[], []];
  let events = 0;
  for (let i = 0; i < runs; i += 1) {
    await told({ open: screensEach, cookies, url: `${bench.address}/api/apps/${app.id}/live` });
    watched.push(await saving(bench, path));
    ({ events } = await told({}));
    alone.push(await saving(bench, path));
  }
  watching.kill();
  const of = (of: readonly Saving[], what: keyof Saving): number => median(of.map((each) => each[what]));
  const [a, b] = [of(watched, 'milliseconds'), of(alone, 'milliseconds')];
  return [
    {
      what: `a save beside ${people * screensEach} open screens`,
      ours: `${a.toFixed(2)} ms`,
      theirs: `with none open ${b.toFixed(2)} ms`,
      ratio: a / b,
      budget: '≤ 1.1',
      also: `${savesPerSecond} saves a second; each screen was told ${(events / people / screensEach / seconds).toFixed(1)} times a second; processor time of the server for a save ${of(watched, 'processor').toFixed(1)} against ${of(alone, 'processor').toFixed(1)} ms`,
    },
  ];
}

interface Saving {
  /** How long the median save took. */
  readonly milliseconds: number;
  /** Processor time of the server for one save, in milliseconds. */
  readonly processor: number;
}

/** Saves at an even pace for a while. */
async function saving(bench: Bench, path: string): Promise<Saving> {
  const before = processorTime(bench.serverPid);
  const took: number[] = [];
  for (let i = 0; i < savesPerSecond * seconds; i += 1) {
    const next = performance.now() + 1000 / savesPerSecond;
    took.push(await time(() => bench.call('POST', path, aSave())));
    await pause(Math.max(0, next - performance.now()));
  }
  return { milliseconds: median(took), processor: (processorTime(bench.serverPid) - before) / took.length };
}

/** In milliseconds; proc_pid_stat(5) counts it in hundredths of a second. */
function processorTime(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]?.split(' ') ?? [];
  return (Number(fields[11]) + Number(fields[12])) * 10;
}
