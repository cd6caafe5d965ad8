import { readConfig } from './config.js';
import { startServer } from './server.js';

const server = await startServer(readConfig(process.env));
const setUp = (await server.people.needsSetUp()) ? `${server.address}/set-up#${await server.people.setUpKey()}` : null;
process.send?.({ kind: 'listening', address: server.address, setUp });
console.log(`Bibliona listens at ${server.address}`);
if (setUp !== null) console.log(`There is nobody yet. Make the first person at ${setUp}`);

let isStopping = false;
const stop = (): void => {
  if (isStopping) return;
  isStopping = true;
  void server.close().then(() => process.exit(0));
};
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
// Whoever started this process is gone, perhaps killed: go too, so that no server is left that nobody knows of.
process.on('disconnect', stop);
