/** The parts of a zip archive (PKWARE APPNOTE), each opened when it is wanted, with limits on how large they may become. */
import type { Readable } from 'node:stream';
import { openPromise, type Entry, type ZipFile } from 'yauzl';
import { FileUnreadable } from './format.js';

const mostEntries = 10_000;
/** Bytes that all parts may have unpacked; what is larger was made to fill a machine. */
const mostBytes = 4 * 1024 ** 3;

export interface Archive {
  readonly has: (name: string) => boolean;
  /** How many bytes a part has unpacked; 0 where there is none. */
  readonly size: (name: string) => number;
  /** A part as it is unpacked; it ends with an error when it has more bytes than the directory says. */
  readonly open: (name: string) => Promise<Readable>;
  readonly close: () => void;
}

/** @throws FileUnreadable when it is damaged or would be too large */
export async function openArchive(path: string): Promise<Archive> {
  let zip: ZipFile;
  const entries = new Map<string, Entry>();
  try {
    zip = await openPromise(path, { autoClose: false, lazyEntries: true });
  } catch {
    throw damaged();
  }
  try {
    let bytes = 0;
    for await (const entry of zip.eachEntry()) {
      bytes += entry.uncompressedSize;
      if (entries.size >= mostEntries || bytes > mostBytes)
        throw new FileUnreadable('The workbook is larger than 4 GB when it is unpacked. Split it into several.');
      // Names of parts are the same in any case (ECMA-376, part 2, 6.2.2).
      entries.set(entry.fileName.toLowerCase(), entry);
    }
  } catch (error) {
    zip.close();
    throw error instanceof FileUnreadable ? error : damaged();
  }
  const entryOf = (name: string): Entry | undefined => entries.get(name.toLowerCase());
  return {
    has: (name) => entryOf(name) !== undefined,
    size: (name) => entryOf(name)?.uncompressedSize ?? 0,
    open: async (name) => {
      const entry = entryOf(name);
      if (entry === undefined) throw damaged();
      if (entry.isEncrypted()) throw new FileUnreadable('The file is protected by a password. Remove the password where it was made and choose it again.');
      return zip.openReadStreamPromise(entry);
    },
    close: () => zip.close(),
  };
}

export const damaged = (): FileUnreadable => new FileUnreadable('The workbook is damaged. Open it where it was made, save it again and choose it once more.');
