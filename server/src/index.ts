export { startServer, type RunningServer } from './server.js';
export { readConfig, type Config } from './config.js';
export { loadFile } from './imports/load-file.js';
