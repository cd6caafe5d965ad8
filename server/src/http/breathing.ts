import { setImmediate as breath } from 'node:timers/promises';

// Work that takes longer than this in one piece delays everybody else's requests.
const longestPiece = 3;

/** Drives work to its end in pieces of a few milliseconds, so that other requests are answered in between. */
export async function breathing<T>(work: Generator<undefined, T>): Promise<T> {
  let since = performance.now();
  for (;;) {
    const step = work.next();
    if (step.done === true) return step.value;
    if (performance.now() - since < longestPiece) continue;
    await breath();
    since = performance.now();
  }
}
