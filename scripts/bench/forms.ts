import { randomUUID } from 'node:crypto';
import { contract, type DesignChange, type FieldPlan, type OpenApp, type Write } from '@bibliona/core';
import type { Page } from 'playwright-core';
import { signIn } from '../sign-in.js';
import { median, type Bench, type Line } from './bench.js';
import { throttling, withBrowser } from './browser.js';

const [fields, rows, keys, wanted] = [60, 200, 40, 50];
const [email, password] = ['forms@quillmoor.example', 'a long enough password'];
const common = { description: '', required: false, unique: false, default: null } as const;

/** Fields of several kinds; each sixth is a formula over the ones before it. */
function planned(prefix: string, count: number): readonly FieldPlan[] {
  return Array.from({ length: count }, (_, i): FieldPlan => {
    const [id, name] = [`${prefix}_${i}`, `Field ${i}`];
    if (i % 6 === 5)
      return { ...common, kind: 'formula', digits: null, unit: null, id, name, expression: `Field ${i - 4} * 2 + string length(Field ${i - 5})` };
    return i % 3 === 1 ? { ...common, kind: 'whole', id, name } : i % 3 === 2 ? { ...common, kind: 'date', id, name } : { ...common, kind: 'text', id, name };
  });
}
const changes: readonly DesignChange[] = [
  { kind: 'add_table', id: 'visits', name: 'Visits', description: '', section: '', form: 'fm_v', list: 'l_v', fields: [...planned('v', fields - 1)] },
  { kind: 'add_table', id: 'frames', name: 'Frames', description: '', section: '', form: 'fm_f', list: 'l_f', fields: [...planned('f', 6)] },
  {
    kind: 'add_relationship',
    ...{ id: 'r_frames', parent: 'visits', child: 'frames', fieldId: 'f_visit', fieldName: 'Visit', childrenName: 'Frames' },
    required: true,
    whenParentRemoved: 'remove',
  },
  {
    kind: 'add_field',
    table: 'visits',
    field: { ...common, kind: 'formula', digits: null, unit: null, id: 'v_all', name: 'All frames', expression: 'sum(Frames.Field 1)' },
  },
];

/** How long it takes until a key that is typed is seen, in a long form with many rows. */
export async function benchForms(bench: Bench): Promise<Line[]> {
  return withBrowser(bench, async ({ server, browser }) => {
    await server.people.add('Forms', email, password);
    const context = await browser.newContext({ baseURL: server.address, viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    await signIn(page, email, password);
    const post = async (path: string, body: unknown): Promise<unknown> => {
      const answer = await context.request.post(path, { data: body, headers: { origin: server.address } });
      if (!answer.ok()) throw new Error(`${path}: ${await answer.text()}`);
      return answer.json();
    };
    const app = (await post(contract.makeApp.path, { name: 'Forms' })) as OpenApp;
    await post(`/api/apps/${app.id}/changes`, { version: 1, changes });
    const writes: Write[] = [
      { kind: 'add', table: 'visits', as: 'visit', values: { v_0: 'Brackmoor', v_1: 7 } },
      ...Array.from({ length: rows }, (_, i): Write => ({
        kind: 'add',
        table: 'frames',
        as: `f ${i}`,
        values: { f_1: i, f_0: 'Brood', f_visit: { added: 'visit' } },
      })),
    ];
    await post(`/api/apps/${app.id}/save`, { key: randomUUID(), writes });
    await page.goto(`/desk/${app.id}/visits/1`);
    await page.getByRole('group', { name: 'Frames' }).getByText(`${rows} rows`).waitFor();
    const devtools = await context.newCDPSession(page);
    await devtools.send('Emulation.setCPUThrottlingRate', { rate: throttling });
    const own = await typed(page, () => page.getByRole('textbox', { name: 'Field 0', exact: true }).click());
    const inRow = await typed(page, () => page.getByRole('group', { name: 'Frames' }).getByRole('row').nth(3).getByRole('cell').nth(1).click());
    const line = (what: string, took: readonly number[]): Line => ({
      what: `a key in ${what} of a form of ${fields} fields and ${rows} rows, processor slowed ${throttling} times`,
      ours: `${median(took).toFixed(0)} ms`,
      theirs: `wanted ${wanted} ms`,
      ratio: median(took) / wanted,
      budget: '≤ 1',
      also: `${keys} keys, one each 150 ms; each sixth field is worked out from the others; the slowest ${Math.max(...took).toFixed(0)} ms`,
    });
    return [line('a field', own), line('a row', inRow)];
  });
}

/** In milliseconds, for each key from the key to the next frame after what came of it. */
async function typed(page: Page, begin: () => Promise<void>): Promise<readonly number[]> {
  await begin();
  await page.waitForTimeout(1000);
  // As text: what runs in the browser knows of things that Node does not have.
  await page.evaluate(`
    globalThis.drawn = [];
    document.addEventListener('keydown', () => {
      const began = performance.now();
      requestAnimationFrame(() => setTimeout(() => drawn.push(performance.now() - began)));
    }, { capture: true });
  `);
  for (let i = 0; i < keys; i += 1) {
    await page.keyboard.press(String(i % 10));
    await page.waitForTimeout(150);
  }
  return page.evaluate<number[]>('drawn');
}
