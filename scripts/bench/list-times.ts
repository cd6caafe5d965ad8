/** Asks for one address again and again, in a process of its own, and tells how long each answer took, in milliseconds. */
import { setTimeout as pause } from 'node:timers/promises';

const { URL: url = '', COOKIE: cookie = '', MILLISECONDS: milliseconds = '0' } = process.env;
const times: number[] = [];
for (const until = Date.now() + Number(milliseconds); Date.now() < until;) {
  const began = performance.now();
  const answer = await fetch(url, { headers: { cookie } });
  const said = await answer.text();
  if (!answer.ok) throw new Error(`${answer.status} ${said}`);
  times.push(performance.now() - began);
  await pause(20);
}
process.send?.(times);
