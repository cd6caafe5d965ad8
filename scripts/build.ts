/** `npm run build`: builds the server and the web side, for whoever runs them with settings of their own. */
import { fileURLToPath } from 'node:url';
import { CannotGoOn } from './packages.js';
import { buildServer } from './server-build.js';
import { buildWeb } from './web-build.js';

const root = fileURLToPath(new URL('..', import.meta.url));
try {
  console.log(`The server is ${await buildServer(root)}/main.js, the web side ${await buildWeb(root)}`);
} catch (error) {
  console.error(error instanceof CannotGoOn ? error.message : error);
  process.exitCode = 1;
}
