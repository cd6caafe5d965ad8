/** A real server on a database of its own, and a real Chromium in front of it. */
import AxeBuilder from '@axe-core/playwright';
import axe, { type Result } from 'axe-core';
import { randomUUID } from 'node:crypto';
import { cp, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readConfig, startServer, type RunningServer } from '@bibliona/server';
import pg from 'pg';
import { chromium, type Browser, type BrowserContext, type Locator, type Page, type Request } from 'playwright-core';
import { loadDemo, demoPassword, demoPeople } from '../../scripts/demo.js';
import { chromiumArguments } from '../../scripts/packages.js';

export interface House {
  readonly server: RunningServer;
  readonly files: string;
  readonly url: string;
  /** A new window of its own session. What the page reports as an error is collected in `faults`. */
  readonly open: (size?: { readonly width: number; readonly height: number }) => Promise<{ readonly page: Page; readonly context: BrowserContext }>;
  readonly faults: string[];
  readonly close: () => Promise<void>;
}

/** What the pages of a window wait for. */
interface Asked {
  readonly unanswered: Set<Request>;
  /** In milliseconds, as `Date.now` says. */
  last: number;
}
const asked = new WeakMap<BrowserContext, Asked>();
function keepWhatIsAsked(context: BrowserContext): void {
  const all: Asked = { unanswered: new Set(), last: 0 };
  asked.set(context, all);
  context.on('request', (request) => {
    all.last = Date.now();
    // What others save is listened for as long as a page is shown.
    if (request.resourceType() !== 'eventsource') all.unanswered.add(request);
  });
  context.on('requestfinished', (request) => all.unanswered.delete(request));
  context.on('requestfailed', (request) => all.unanswered.delete(request));
}
/** Waits until all that a page asks for has come, and what that leads to: nothing has been asked for the time of a few drawings. */
export async function everythingCame(page: Page): Promise<void> {
  const all = asked.get(page.context());
  if (all === undefined) throw new Error('The window was not opened by a house');
  const giveUp = Date.now() + 30_000;
  while (all.unanswered.size > 0 || Date.now() - all.last < 400) {
    if (Date.now() > giveUp) throw new Error(`No answer came to ${[...all.unanswered].map((request) => request.url()).join(', ')}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

/** Where the server of a window is. */
const addresses = new WeakMap<BrowserContext, string>();

/**
 * Signs a window in without its form, which has tests of its own: drawing it and the first page each time would take a minute
 * of all tests.
 */
export async function signIn(page: Page, email: string, password: string): Promise<void> {
  const context = page.context();
  const origin = addresses.get(context) ?? '';
  const answer = await context.request.post('/api/sign-in', { data: { email, password }, headers: { origin } });
  if (!answer.ok()) throw new Error(`${email} can't sign in: ${await answer.text()}`);
  // What its pages show is someone else's.
  for (const open of context.pages()) await open.goto('about:blank');
}

/**
 * Goes to an address as a link on the page does. The page stays: loading its scripts and running them again is two thirds of what a
 * screen costs. It goes by way of an address that no screen has, so that nothing of the screen before is taken for the next one.
 * A page that shows nothing of the house yet is loaded.
 */
export async function visit(page: Page, path: string): Promise<void> {
  const origin = addresses.get(page.context());
  if (origin === undefined || !page.url().startsWith(origin)) {
    await page.goto(path);
    return;
  }
  const nowhere = page.getByRole('heading', { name: "This page doesn't exist", level: 1 });
  // As React Router's own links do: the number of the entry in the history beside it.
  const goTo = (to: string, keeps: 'pushState' | 'replaceState'): Promise<void> =>
    page.evaluate(
      ([url, write]) => {
        const { idx = 0 } = (window.history.state ?? {}) as { readonly idx?: number };
        const state = { idx: write === 'pushState' ? idx + 1 : idx, key: String(Math.random()) };
        window.history[write](state, '', url);
        window.dispatchEvent(new PopStateEvent('popstate', { state }));
      },
      [to, keeps] as const,
    );
  await goTo('/nowhere', 'pushState');
  await nowhere.waitFor();
  await goTo(path, 'replaceState');
  await nowhere.waitFor({ state: 'detached' });
}

/** The variable in which a run of tests says which demo it has made. */
export const madeDemo = 'MADE_DEMO';

async function admin(text: string): Promise<void> {
  const client = new pg.Client({ connectionString: process.env['TEST_DATABASE'] });
  await client.connect();
  try {
    await client.query(text);
  } finally {
    await client.end();
  }
}

/** A database of its own, empty or as another one is. */
async function ownDatabase(as: string | null): Promise<{ readonly name: string; readonly url: string }> {
  const base = process.env['TEST_DATABASE'];
  if (base === undefined) throw new Error('TEST_DATABASE is not set: run the tests with npm test');
  const name = `browser_${randomUUID().replaceAll('-', '').slice(0, 16)}`;
  await admin(`CREATE DATABASE ${name}${as === null ? '' : ` TEMPLATE ${as}`}`);
  const url = new URL(base);
  url.pathname = `/${name}`;
  return { name, url: url.toString() };
}

/**
 * Scripts run as they are first compiled: a page of a test is closed before making them faster has paid for itself, and on few
 * processors it takes from the page.
 */
const scriptsAsTheyAre = ['--js-flags=--no-maglev --no-turbofan'];

/** The windows that are open now, of all houses. */
const windowsNow = new Set<BrowserContext>();

/** In characters: of each page that is told of. */
const mostTold = 1200;
/** What the open pages show, a line each: who reads of a failed test elsewhere has no other way to see it. */
export async function shownNow(): Promise<string> {
  const pages = [...windowsNow].flatMap((context) => context.pages()).filter((page) => page.url() !== 'about:blank');
  const lines = pages.map(async (page) => {
    const text = await page.evaluate(() => document.body.innerText).catch(() => 'can no longer be asked');
    return `${page.url()} shows: ${text.replaceAll(/\s+/gu, ' ').slice(0, mostTold)}`;
  });
  return (await Promise.all(lines)).join('\n');
}

let opened: Promise<Browser> | null = null;
/** One browser for all files that a process runs, each in windows of its own; it ends with the process. Starting one takes a second. */
function browserOfAll(): Promise<Browser> {
  opened ??= chromium.launch({ executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium', args: [...chromiumArguments, ...scriptsAsTheyAre] });
  return opened;
}

/** @param like the demo that it begins with; null: it begins empty */
export async function openHouse(like: MadeDemo | null = null): Promise<House> {
  const { name, url } = await ownDatabase(like?.database ?? null);
  const files = await mkdtemp(join(tmpdir(), 'bibliona-browser-'));
  if (like !== null) await cp(like.files, files, { recursive: true });
  const server = await startServer(
    readConfig({ DATABASE_URL: url, PORT: '0', FILES: files, WEB: process.env['WEB'] ?? '', MAIL_FROM: 'honey@quillmoor.example', LOG: 'error' }),
  );
  const browser = await browserOfAll();
  const windows: BrowserContext[] = [];
  const faults: string[] = [];
  return {
    server,
    files,
    url,
    faults,
    open: async (size = { width: 1280, height: 800 }) => {
      const context = await browser.newContext({ viewport: size, locale: 'en-GB', baseURL: server.address, reducedMotion: 'reduce' });
      windows.push(context);
      windowsNow.add(context);
      context.on('close', () => windowsNow.delete(context));
      keepWhatIsAsked(context);
      addresses.set(context, server.address);
      const page = await context.newPage();
      page.setDefaultTimeout(30_000);
      page.on('pageerror', (error) => faults.push(error.stack ?? error.message));
      // Refusals of the server are answers; what counts is what the page itself complains of, its security policy above all.
      page.on('console', (message) => {
        if (message.type() === 'error' && !message.text().startsWith('Failed to load resource')) faults.push(message.text());
      });
      return { page, context };
    },
    close: async () => {
      for (const context of windows) await context.close();
      await server.close();
      await admin(`DROP DATABASE ${name} WITH (FORCE)`);
      await rm(files, { recursive: true, force: true });
    },
  };
}

/** Picks an entry of one of the house's select inputs. */
export async function choose(within: Page | Locator, label: string | RegExp, option: string | RegExp): Promise<void> {
  await within.getByRole('combobox', { name: label }).click();
  const page = 'keyboard' in within ? within : within.page();
  await page.getByRole('option', { name: option }).click();
}

/** Saves what is being worked on at a station, and waits until it is saved. */
export async function saveDraft(page: Page, what: string): Promise<void> {
  await page.getByRole('button', { name: `Save ${what}` }).click();
  await page.getByRole('button', { name: 'Discard changes' }).waitFor({ state: 'detached' });
}

/** Saves the rules of a table, and waits until they are saved: the button can't be pressed while that is under way either. */
export async function saveRules(page: Page): Promise<void> {
  const saved = page.waitForResponse((answer) => answer.url().endsWith('/changes') && answer.ok());
  await page.getByRole('button', { name: 'Save rules' }).click();
  await saved;
}

/** What is on the sheet of a form at its station, in order. */
export const itemsOnSheet = async (page: Page): Promise<readonly string[]> =>
  (await page.getByRole('main').getByRole('group', { name: 'Form', exact: true }).getByRole('group').all()).reduce<Promise<string[]>>(
    async (found, each) => [...(await found), (await each.getAttribute('aria-label')) ?? ''],
    Promise.resolve([]),
  );

/** The first row that a statement gives of the tables of an app, its values as texts. */
export async function rowOf(house: House, app: string, text: string): Promise<Record<string, string>> {
  const client = new pg.Client({ connectionString: house.url });
  await client.connect();
  try {
    await client.query(`SET search_path = "app_${app}"`);
    const [row = {}] = (await client.query<Record<string, unknown>>(text)).rows;
    return Object.fromEntries(Object.entries(row).map(([name, value]) => [name, String(value)]));
  } finally {
    await client.end();
  }
}

/** The link in the latest mail to an address, as the mailbox keeps it. */
export async function mailedLink(house: House, to: string): Promise<string> {
  const client = new pg.Client({ connectionString: house.url });
  await client.connect();
  try {
    const latest = `SELECT m.state, b.body FROM bibliona.mail AS m LEFT JOIN bibliona.mailbox AS b ON b.message_id = '<' || m.id || '@bibliona>' WHERE m.recipient = $1 ORDER BY m.created_at DESC LIMIT 1`;
    for (let tries = 0; tries < 200; tries += 1) {
      const [mail] = (await client.query<{ state: string; body: string | null }>(latest, [to])).rows;
      const link = mail?.state === 'kept' ? /https?:\S+\/(?:join|reset)\/\S+/u.exec(mail.body ?? '')?.[0] : undefined;
      if (link !== undefined) return link;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    throw new Error(`No mail with a link came to ${to}`);
  } finally {
    await client.end();
  }
}

/** The small demo as a database and a folder of files that no server has open: houses begin as copies of it. */
export interface MadeDemo {
  readonly app: string;
  readonly database: string;
  readonly files: string;
}
export async function makeDemo(): Promise<MadeDemo> {
  const { name, url } = await ownDatabase(null);
  const files = await mkdtemp(join(tmpdir(), 'bibliona-demo-'));
  const server = await startServer(readConfig({ DATABASE_URL: url, PORT: '0', FILES: files, WEB: '', MAIL_FROM: 'honey@quillmoor.example', LOG: 'error' }));
  try {
    return { app: await loadDemo(server, files, 'small'), database: name, files };
  } finally {
    await server.close();
  }
}
export async function removeDemo({ database, files }: MadeDemo): Promise<void> {
  await admin(`DROP DATABASE ${database} WITH (FORCE)`);
  await rm(files, { recursive: true, force: true });
}

/** A house with the small demo, and its builder signed in. */
export async function openDemo(): Promise<{ readonly house: House; readonly app: string; readonly page: Page }> {
  const made = process.env[madeDemo];
  const like = made === undefined ? null : (JSON.parse(made) as MadeDemo);
  const house = await openHouse(like);
  const app = like?.app ?? (await loadDemo(house.server, house.files, 'small'));
  const { page } = await house.open();
  await signIn(page, demoPeople[0].email, demoPassword);
  return { house, app, page };
}

/** The faults of a page that a machine can find: none when it is well. */
export async function barriersOf(page: Page): Promise<readonly string[]> {
  // What is still on its way has no heading yet; it is the view that is asked about.
  await page.getByRole('progressbar', { name: 'Loading' }).first().waitFor({ state: 'detached' });
  const violations = await (page.frames().length > 1 ? violationsInFrames(page) : violationsIn(page));
  return violations.map((violation) => `${violation.id}: ${violation.nodes[0]?.html ?? ''}`);
}

// What is shown beside what is pointed at is over something else, and may hide it.
const besides = '[role=tooltip]';

const violationsInFrames = async (page: Page): Promise<readonly Result[]> => (await new AxeBuilder({ page }).exclude(besides).analyze()).violations;

/**
 * For each text the colours of all that lies behind it are read, which are the same few again and again. Reading each of them once
 * takes a third off the whole.
 */
const coloursReadOnce = `{
  const { prototype } = axe.commons.color.Color;
  const { parseString } = prototype;
  const known = new Map();
  prototype.parseString = function (text) {
    if (!known.has(text)) {
      parseString.call(this, text);
      known.set(text, { r: this.r, g: this.g, b: this.b, alpha: this.alpha });
    }
    return Object.assign(this, known.get(text));
  };
}`;

/** The same where the page has no frames: within the page itself, which takes a fifth of the time. */
async function violationsIn(page: Page): Promise<readonly Result[]> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe.source + coloursReadOnce);
  return page.evaluate(async (exclude) => {
    const { axe: within } = window as unknown as { readonly axe: typeof axe };
    return (await within.run({ exclude: [[exclude]] }, { resultTypes: ['violations'] })).violations;
  }, besides);
}
