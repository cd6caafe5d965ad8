/** `npm run screenshots`: one current picture of each main view, from the demo data, into docs/screenshots. */
import { mkdirSync, rmSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { chromium, type Browser, type Page } from 'playwright-core';
import type { OpenApp } from '@bibliona/core';
import { flatFile, flatSheet } from '@bibliona/demo';
import { readConfig, startServer } from '@bibliona/server';
import { demoPassword, demoPeople, loadDemo } from './demo.js';
import { ensureDatabase, openCluster } from './cluster.js';
import { CannotGoOn, chromiumArguments, chromiumProgram } from './packages.js';
import { signIn } from './sign-in.js';
import { buildWeb } from './web-build.js';
import { openWebsite } from './website.js';

const root = fileURLToPath(new URL('..', import.meta.url));
const desk = { width: 1280, height: 800 };
const phone = { width: 390, height: 844 };

interface Picture {
  readonly name: string;
  readonly path: string;
  readonly size?: { readonly width: number; readonly height: number };
  readonly theme?: 'dark';
  /** What is done, or waited for, before the picture. */
  readonly first?: (page: Page, app: string) => Promise<unknown>;
}

/** One picture of several screens, two beside each other. */
interface Sheet {
  readonly name: string;
  /** Of each screen on it, in pixels. */
  readonly width: number;
  readonly of: readonly Omit<Picture, 'name'>[];
}

const pictures: readonly Picture[] = [
  { name: 'tables', path: '/workshop/APP/tables/inspections', first: (page) => page.getByRole('img', { name: /^Date:/u }).waitFor() },
  {
    name: 'tables-dark',
    path: '/workshop/APP/tables/hives/fields/hive_kind',
    theme: 'dark',
    first: (page) => page.getByRole('img', { name: /^Code:/u }).waitFor(),
  },
  {
    name: 'formula',
    path: '/workshop/APP/tables/inspections/fields/inspection_rate',
    first: (page) => page.getByText('For 5 of 12,000 real records').waitFor(),
  },
  {
    name: 'query',
    path: '/workshop/APP/queries/mite_heavy',
    first: async (page) => {
      await page.getByRole('main').getByRole('button', { name: 'Average mites', exact: true }).click();
      await page
        .getByRole('region', { name: 'Proof' })
        .getByText(/of \d+ rows/u)
        .waitFor();
    },
  },
  {
    name: 'access',
    path: '/workshop/APP/access/roles/keeper/hives',
    first: async (page) => {
      const records = page.getByRole('list', { name: 'Records of Hives' });
      await records
        .getByRole('button', { name: /not seen$/u })
        .first()
        .click();
      await page.getByRole('heading', { name: /can't see/u }).waitFor();
    },
  },
  {
    name: 'report',
    path: '/workshop/APP/reports/harvest_report',
    first: (page) => page.getByRole('region', { name: 'Proof' }).getByText('Totals match').waitFor(),
  },
  { name: 'dashboard', path: '/desk/APP/d/season', first: (page) => page.getByText('Lots by status').waitFor() },
  {
    name: 'route',
    path: '/workshop/APP/workflows/route_of_a_lot',
    first: (page) => page.getByRole('button', { name: /^Status In lab/u }).click(),
  },
  {
    name: 'automation',
    path: '/workshop/APP/workflows/automations/lot_is_released',
    first: async (page) => {
      await page.getByRole('main').getByRole('listitem').nth(1).getByRole('button').click();
      await page.getByRole('region', { name: 'Proof' }).getByText('Mail to jorun.vasse@quillmoor.example').waitFor();
    },
  },
  {
    name: 'moves',
    path: '/desk/APP/waiting',
    first: async (page) => {
      await page.getByRole('group', { name: 'Records that wait' }).getByRole('link').nth(8).click();
      await page.getByRole('group', { name: 'Moves' }).waitFor();
    },
  },
  {
    name: 'list',
    path: '/desk/APP/hives',
    first: async (page) => {
      await page
        .getByRole('complementary', { name: 'Quick filters' })
        .getByRole('button', { name: /^National/u })
        .click();
      await page.getByRole('button', { name: 'Remove the filter Box: National' }).waitFor();
    },
  },
  {
    name: 'grouped',
    path: '/desk/APP/harvests?list=harvests_season',
    first: async (page) => {
      await page.getByRole('rowheader').getByRole('button').first().click();
      await page.getByRole('rowheader').getByRole('button').nth(1).click();
      await page.getByRole('link', { name: /^Open/u }).first().waitFor();
    },
  },
  {
    name: 'form-sheet',
    path: '/workshop/APP/screens/hive_glance',
    first: async (page) => {
      await page.getByRole('group', { name: /^Button Ask for a visit/u }).click();
      await page.getByRole('region', { name: 'Proof' }).getByText('Phone of its keeper').waitFor();
      await page.getByRole('region', { name: 'Proof' }).getByRole('button', { name: 'Ask for a visit' }).waitFor();
    },
  },
  {
    name: 'record',
    path: '/desk/APP/inspections/5',
    first: async (page) => {
      await page.getByRole('textbox', { name: 'Notes' }).fill('Calm, a little chalk brood on frame 2.');
      await page.getByRole('checkbox', { name: 'Queen seen' }).click();
      await page.keyboard.press('Control+s');
      await page.getByRole('complementary', { name: 'History' }).getByText('Calm, a little').waitFor();
      await page.getByRole('textbox', { name: 'Notes' }).evaluate((input) => (input as unknown as { blur: () => void }).blur());
    },
  },
  { name: 'flat-sheet', path: '/', first: bringFlatSheet },
  { name: 'website', path: '/', size: { width: 1280, height: 1000 }, first: showInWebsite },
  { name: 'reading', path: '/', first: readFirst },
];

const sheets: readonly Sheet[] = [
  {
    name: 'phone',
    width: phone.width,
    of: [
      { path: '/desk/APP/hives', size: phone, first: (page) => page.getByRole('link', { name: /^H-001/u }).waitFor() },
      { path: '/desk/APP/inspections/5', size: phone, first: (page) => page.getByRole('textbox', { name: 'Number' }).waitFor() },
    ],
  },
  {
    name: 'arrangements',
    width: desk.width / 2,
    of: [
      { path: '/desk/APP/lots?list=lots_board', first: (page) => page.getByRole('article').first().waitFor() },
      {
        path: '/desk/APP/inspections?list=inspections_calendar&month=2026-08',
        first: (page) =>
          page
            .getByRole('list', { name: /Aug 2026/u })
            .first()
            .waitFor(),
      },
      {
        path: '/desk/APP/hive_treatments?list=treatments_timeline&on=2026-08-10&view=quarter',
        first: (page) =>
          page
            .getByRole('link', { name: /Aug 2026 to/u })
            .first()
            .waitFor(),
      },
      { path: '/desk/APP/apiaries?list=apiary_map', first: (page) => page.locator('svg circle').first().waitFor() },
      { path: '/desk/APP/apiaries?list=apiary_cards', first: (page) => page.getByRole('article').first().waitFor() },
      { path: '/desk/APP/harvests?list=harvest_chart', first: (page) => page.getByRole('row', { name: /^May 2024/u }).waitFor() },
    ],
  },
];

/** Changes a form or a list of the app, as its builder. */
async function change<K extends 'form' | 'list'>(page: Page, app: string, part: K, id: string, changed: (now: PartOf<K>) => PartOf<K>): Promise<void> {
  const { version, design } = (await (await page.request.get(`/api/apps/${app}`)).json()) as OpenApp;
  const all: readonly PartOf<'form' | 'list'>[] = part === 'form' ? design.forms : design.lists;
  const value = changed(all.find((each) => each.id === id) as PartOf<K>);
  await page.request.post(`/api/apps/${app}/changes`, {
    headers: { origin: new URL(page.url()).origin },
    data: { version, changes: [{ kind: 'put', part, value }] },
    failOnStatusCode: true,
  });
}
type PartOf<K extends 'form' | 'list'> = OpenApp['design'][K extends 'form' ? 'forms' : 'lists'][number];

/** The website of the demo, on an address of its own, which its builder has named. */
async function showInWebsite(page: Page, app: string): Promise<void> {
  const { address } = await openWebsite(new URL(`/public/${app}/swarm_public`, page.url()).href);
  const named = <P extends { readonly public?: unknown }>(part: P): P => ({ ...part, public: { ...(part.public as object), sites: [address] } });
  await change(page, app, 'form', 'swarm_public', named);
  await change(page, app, 'list', 'lots_ready', named);
  await page.goto(address);
  await page.frameLocator('bibliona-list iframe').getByRole('columnheader').first().waitFor();
  await page.frameLocator('bibliona-form iframe').getByRole('button', { name: 'Send' }).waitFor();
  await page.waitForTimeout(600);
  await page
    .getByRole('heading', { name: 'A swarm in your garden?' })
    .evaluate((heading) => (heading as unknown as { scrollIntoView: () => void }).scrollIntoView());
  await page.mouse.wheel(0, -330);
}

/** A record as it is read where the form says so, with what people say of it. */
async function readFirst(page: Page, app: string): Promise<void> {
  const form = ((await (await page.request.get(`/api/apps/${app}`)).json()) as OpenApp).design.forms.find((each) => each.table === 'lots');
  await change(page, app, 'form', form?.id ?? '', (now) => ({ ...now, readFirst: true }));
  await page.goto(`/desk/${app}/lots/4`);
  await page.getByRole('textbox', { name: 'New comment' }).fill('The laboratory asks for a second sample. I bring it on Friday.');
  await page.getByRole('button', { name: 'Add comment' }).click();
  await page.getByText('I bring it on Friday').waitFor();
}

/** In an app of its own, and with slips in it. */
async function bringFlatSheet(page: Page): Promise<void> {
  const sheet = flatSheet('demo');
  const region = sheet.heads.indexOf('Apiary Region');
  for (const row of [40, 300, 900]) (sheet.rows[row] as string[])[region] = 'Nroth';
  await page.getByRole('button', { name: 'App', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'New app' });
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Inspections');
  await dialog.getByRole('radio', { name: /^A spreadsheet/u }).check();
  await dialog.getByRole('button', { name: 'Make the app' }).click();
  await page.getByLabel('Spreadsheet file').setInputFiles({ name: 'Inspections.csv', mimeType: 'text/csv', buffer: Buffer.from(flatFile(sheet)) });
  await page.getByRole('button', { name: 'Make all 4 tables' }).click();
  await page.getByRole('button', { name: '3 rows differ' }).click();
  await page.getByRole('button', { name: 'Table Keepers, 27 records' }).waitFor();
}

/** Signs in, goes to the screen and takes its picture. */
async function take(browser: Browser, address: string, app: string, picture: Omit<Picture, 'name'>): Promise<Buffer> {
  const context = await browser.newContext({
    viewport: picture.size ?? desk,
    baseURL: address,
    locale: 'en-GB',
    colorScheme: picture.theme ?? 'light',
    reducedMotion: 'reduce',
  });
  const page = await context.newPage();
  await signIn(page, demoPeople[0].email, demoPassword);
  await page.goto(picture.path.replace('APP', app));
  await picture.first?.(page, app);
  await page.waitForTimeout(600);
  const drawn = await page.screenshot();
  await context.close();
  return drawn;
}

/** One picture of these, two beside each other. @param width of each, in pixels */
async function laidOut(browser: Browser, width: number, drawn: readonly Buffer[]): Promise<Buffer> {
  const page = await browser.newPage({ viewport: { width: 2 * width, height: width }, deviceScaleFactor: 1.5 });
  const images = drawn.map((picture) => `<img src="data:image/png;base64,${picture.toString('base64')}" style="width: 50%; outline: 1px solid #999">`);
  await page.setContent(`<body style="margin: 0; line-height: 0">${images.join('')}</body>`);
  const sheet = await page.screenshot({ fullPage: true });
  await page.close();
  return sheet;
}

async function main(): Promise<void> {
  const cluster = await openCluster(root, 'test', { fsync: 'off' });
  const admin = new pg.Client({ connectionString: cluster.url('postgres') });
  await admin.connect();
  await admin.query('DROP DATABASE IF EXISTS screenshots WITH (FORCE)');
  await admin.end();
  const files = join(root, '.data', 'files');
  const out = join(root, 'docs', 'screenshots');
  mkdirSync(files, { recursive: true });
  rmSync(out, { recursive: true, force: true });
  mkdirSync(out, { recursive: true });
  const server = await startServer(
    readConfig({
      DATABASE_URL: await ensureDatabase(cluster, 'screenshots'),
      PORT: '0',
      FILES: files,
      WEB: await buildWeb(root),
      MAIL_FROM: 'honey@quillmoor.example',
      LOG: 'error',
    }),
  );
  const browser = await chromium.launch({
    executablePath: chromiumProgram(),
    args: chromiumArguments,
  });
  try {
    const app = await loadDemo(server, files, 'demo');
    const keep = async (name: string, picture: Buffer): Promise<void> => {
      await writeFile(join(out, `${name}.png`), picture);
      console.log(`docs/screenshots/${name}.png`);
    };
    for (const { name, width, of } of sheets) {
      const drawn: Buffer[] = [];
      for (const picture of of) drawn.push(await take(browser, server.address, app, picture));
      await keep(name, await laidOut(browser, width, drawn));
    }
    for (const picture of pictures) await keep(picture.name, await take(browser, server.address, app, picture));
  } finally {
    await browser.close();
    await server.close();
    await cluster.stop();
  }
}

main().then(
  () => process.exit(0),
  (error: unknown) => {
    console.error(error instanceof CannotGoOn ? error.message : error);
    process.exit(1);
  },
);
