import { setTimeout as delay } from 'node:timers/promises';
import { readConfig, type Config } from './config.js';
import { isDatabaseAway } from './db/errors.js';
import { startServer, type RunningServer } from './server.js';

let isStopping = false;
let server: RunningServer | null = null;
const stop = (): void => {
  if (isStopping) return;
  isStopping = true;
  void (server?.close() ?? Promise.resolve()).then(() => process.exit(0));
};
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
// The process that started this one has ended, perhaps killed: end too, so that no server is left that nobody knows of.
process.on('disconnect', stop);

// What failed while nobody waited for it, such as a library's work whose connection broke, ends nobody's work.
process.on('unhandledRejection', (reason) => {
  console.error(`Failed, and nobody waited for it: ${reason instanceof Error ? (reason.stack ?? reason.message) : String(reason)}`);
});

const tryAgainAfter = 2000;

/** Waits for the database for as long as it takes. */
async function startWhenThere(config: Config): Promise<RunningServer> {
  for (;;) {
    try {
      return await startServer(config);
    } catch (error) {
      const { code = '', message = '' } = error as { code?: string; message?: string };
      if (!isDatabaseAway(error)) throw error;
      const { host, pathname } = new URL(config.databaseUrl);
      console.error(
        `The database ${pathname.slice(1)} at ${host} is not reachable (${code === '' ? message : code}). Trying again in ${tryAgainAfter / 1000} s.`,
      );
      await delay(tryAgainAfter);
    }
  }
}

try {
  server = await startWhenThere(readConfig(process.env));
  const setUp = (await server.people.needsSetUp()) ? `${server.address}/set-up#${await server.people.setUpKey()}` : null;
  process.send?.({ kind: 'listening', address: server.address, setUp });
  console.log(`Bibliona listens at ${server.address}`);
  if (setUp !== null) console.log(`There is nobody yet. Make the first person at ${setUp}`);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
}
