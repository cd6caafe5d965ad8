/** Deletes four times a day what nobody needs any longer. */
import type { JobKind } from './jobs.js';

/** @param parts each deletes what it knows of, up to the time of the call */
export const tidyUp = (parts: readonly ((now: Date) => Promise<void>)[]): JobKind => ({
  name: 'tidy_up',
  every: '17 */6 * * *',
  run: async () => {
    for (const part of parts) await part(new Date());
  },
});
