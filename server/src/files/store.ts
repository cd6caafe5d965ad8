/** Where the content of files is kept. A key is kept whole or not at all, and what is kept under it never changes. */
import type { Readable } from 'node:stream';

export interface FileStore {
  /** Keeps the content of a file on the disk; a key that is kept already stays as it is. @throws Refusal unavailable */
  readonly put: (key: string, path: string) => Promise<void>;
  /** The content; an error when there is none. @throws Refusal unavailable */
  readonly read: (key: string) => Promise<Readable>;
  /** Keys that are not kept are passed over. */
  readonly remove: (keys: readonly string[]) => Promise<void>;
}
