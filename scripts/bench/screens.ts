import type { Browser, BrowserContextOptions } from 'playwright-core';
import { demoPassword, demoPeople, loadDemo } from '../demo.js';
import { countScripts } from './loaded-scripts.js';
import { signIn } from '../sign-in.js';
import { median, type Bench, type Line } from './bench.js';
import { throttling, withBrowser } from './browser.js';

const runs = 5;
/** In milliseconds, and in bytes as sent. */
const wanted = { time: 2500, script: 400_000 };

interface Screen {
  readonly name: string;
  readonly path: string;
  /** Whether it is of use, as the page is asked with each frame that it draws. */
  readonly isThere: string;
  /** Whether the bytes of its scripts have a budget. */
  readonly isLight: boolean;
}
const screens: readonly Screen[] = [
  {
    name: 'a list',
    path: '/desk/APP/inspections',
    isThere: `[...document.querySelectorAll('[role=gridcell]')].some((cell) => /20\\d\\d/.test(cell.textContent))`,
    isLight: true,
  },
  {
    name: 'a record',
    path: '/desk/APP/inspections/5',
    isThere: `[...document.querySelectorAll('label')].some((label) => label.textContent === 'Notes' && label.control !== null)`,
    isLight: true,
  },
  { name: 'a dashboard', path: '/desk/APP/d/season', isThere: `document.querySelector('.figure-value') !== null`, isLight: false },
  { name: 'the Tables station', path: '/workshop/APP/tables', isThere: `document.querySelector('.react-flow__node') !== null`, isLight: false },
];

/** How long it takes until a screen can be used, with an empty cache and a slow processor, and how much script it loads. */
export async function benchScreens(bench: Bench): Promise<Line[]> {
  return withBrowser(bench, async ({ server, files, browser }) => {
    const app = await loadDemo(server, files, 'demo');
    const storageState = await signedIn(browser, server.address);
    const lines: Line[] = [];
    for (const screen of screens) {
      const taken: { readonly time: number; readonly script: number; readonly files: number }[] = [];
      for (let run = 0; run < runs; run += 1) taken.push(await openedIn(browser, { baseURL: server.address, storageState }, screen, app));
      const [time, script] = [median(taken.map((each) => each.time)), median(taken.map((each) => each.script))];
      lines.push({
        what: `${screen.name}, empty cache, processor slowed ${throttling} times`,
        ours: `${time.toFixed(0)} ms`,
        theirs: `wanted ${wanted.time} ms`,
        ratio: time / wanted.time,
        budget: `≤ 1${screen.isLight ? `, script ≤ ${wanted.script / 1000} kB as sent` : ''}`,
        also: `${(script / 1000).toFixed(0)} kB of script in ${median(taken.map((each) => each.files))} files`,
      });
    }
    return lines;
  });
}

async function signedIn(browser: Browser, baseURL: string): Promise<NonNullable<BrowserContextOptions['storageState']>> {
  const context = await browser.newContext({ baseURL });
  const page = await context.newPage();
  await signIn(page, demoPeople[0].email, demoPassword);
  const state = await context.storageState();
  await context.close();
  return state;
}

async function openedIn(browser: Browser, options: BrowserContextOptions, screen: Screen, app: string) {
  // A new context has a cache of its own, which is empty.
  const context = await browser.newContext({ ...options, viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  const devtools = await context.newCDPSession(page);
  await devtools.send('Emulation.setCPUThrottlingRate', { rate: throttling });
  const loaded = await countScripts(devtools);
  const start = performance.now();
  await page.goto(screen.path.replace('APP', app), { waitUntil: 'commit' });
  // Waiting as tests do would ask only twice a second by then.
  await page.evaluate(`new Promise((done) => { const look = () => (${screen.isThere} ? done() : requestAnimationFrame(look)); look(); })`);
  const [time, { bytes, files }] = [performance.now() - start, loaded()];
  await context.close();
  return { time, script: bytes, files };
}
