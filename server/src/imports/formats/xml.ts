/** Goes through an XML document as it streams in, in constant memory. */
import type { Readable } from 'node:stream';
import { SaxesParser } from 'saxes';
import { damaged } from './zip.js';
import { FileUnreadable, longestCell } from './format.js';

export interface Elements {
  /** The name is without its prefix. */
  readonly open?: (name: string, attributes: Readonly<Record<string, string>>) => void;
  readonly text?: (text: string) => void;
  readonly close?: (name: string) => void;
}

const local = (name: string): string => name.slice(name.indexOf(':') + 1);

// An escaped character takes up to six.
const longestText = longestCell * 6;

/** @param onPart called after each part with the bytes read so far @throws FileUnreadable */
export async function eachElement(stream: Readable, { open, text, close }: Elements, onPart: (bytes: number) => Promise<void> | null): Promise<void> {
  const parser = new SaxesParser({ position: false });
  if (open !== undefined) parser.on('opentag', (tag) => open(local(tag.name), tag.attributes as Readonly<Record<string, string>>));
  if (close !== undefined) parser.on('closetag', (tag) => close(local(tag.name)));
  if (text !== undefined) {
    parser.on('text', text);
    parser.on('cdata', text);
  }
  const decoder = new TextDecoder();
  const chunks = (stream as AsyncIterable<Buffer>)[Symbol.asyncIterator]();
  let bytes = 0;
  // Characters since the last sign that a tag begins: the parser keeps them until then.
  let pending = 0;
  try {
    for (;;) {
      const next = await orDamaged(() => chunks.next());
      if (next.done === true) break;
      bytes += next.value.length;
      const part = decoder.decode(next.value, { stream: true });
      const tag = part.lastIndexOf('<');
      pending = tag < 0 ? pending + part.length : part.length - tag;
      if (pending > longestText) throw new FileUnreadable(`A cell of the workbook is longer than ${longestCell / 1_000_000} million characters.`);
      await orDamaged(() => parser.write(part));
      const wait = onPart(bytes);
      if (wait !== null) await wait;
    }
    await orDamaged(() => parser.write(decoder.decode()).close());
  } finally {
    stream.destroy();
  }
}

/** What the archive or the parser complains of is a fault of the file. */
async function orDamaged<T>(work: () => T | Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    throw error instanceof FileUnreadable ? error : damaged();
  }
}
