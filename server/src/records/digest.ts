import { createHash } from 'node:crypto';

/** What a request asks for, in the form of a UUID: the first 16 bytes of its SHA-256. */
export function digestOf(asked: unknown): string {
  const hex = createHash('sha256').update(JSON.stringify(asked)).digest('hex');
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20, 32)].join('-');
}

/** The number of the run that a write of a save starts by hand: sent again, it is the same. */
export const startedRun = (key: string, automation: string, write: number): string => digestOf([key, automation, write]);
