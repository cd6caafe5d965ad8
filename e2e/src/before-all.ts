/** Before a run of browser tests: the demo is loaded once, for all files. */
import { madeDemo, makeDemo, removeDemo } from './browser.js';

export default async function beforeAll(): Promise<() => Promise<void>> {
  const demo = await makeDemo();
  process.env[madeDemo] = JSON.stringify(demo);
  return () => removeDemo(demo);
}
