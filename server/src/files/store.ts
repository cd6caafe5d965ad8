/** Where the content of files is kept. A key is kept whole or not at all, and what is kept under it never changes. */
import type { Readable } from 'node:stream';

export interface FileStore {
  /** Keeps the content of a file on the disk; a key that is kept already stays as it is. */
  readonly put: (key: string, path: string) => Promise<void>;
  /** The content; an error when there is none. */
  readonly read: (key: string) => Readable;
  /** Keys that are not kept are passed over. */
  readonly remove: (keys: readonly string[]) => Promise<void>;
}
