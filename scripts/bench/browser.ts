import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readConfig, startServer, type RunningServer } from '@bibliona/server';
import { chromium, type Browser } from 'playwright-core';
import { chromiumArguments, chromiumProgram } from '../packages.js';
import { buildWeb } from '../web-build.js';
import type { Bench } from './bench.js';

/** How much slower the processor is made: a laptop of some years ago. */
export const throttling = 4;

/** Does something with a browser and a server that has the built web side, on a database of its own. */
export async function withBrowser<T>(
  bench: Bench,
  work: (at: { readonly server: RunningServer; readonly files: string; readonly browser: Browser }) => Promise<T>,
): Promise<T> {
  await bench.client.query('CREATE DATABASE bench_screens');
  const url = new URL(bench.url);
  url.pathname = '/bench_screens';
  const files = await mkdtemp(join(tmpdir(), 'bibliona-screens-'));
  const server = await startServer(
    readConfig({ DATABASE_URL: url.toString(), PORT: '0', FILES: files, WEB: await buildWeb(bench.root), LOG: 'error', MAKE_APPS: 'everyone' }),
  );
  const browser = await chromium.launch({ executablePath: chromiumProgram(), args: chromiumArguments });
  try {
    return await work({ server, files, browser });
  } finally {
    await browser.close();
    await server.close();
    await bench.client.query('DROP DATABASE bench_screens WITH (FORCE)');
    await rm(files, { recursive: true, force: true });
  }
}
