/**
 * What a file is, by its content: its name says what people meant it to be, and nothing more. The packages that tell are loaded
 * with the first file.
 */
import { endingOf, imageEndings } from '@bibliona/core';
import { open } from 'node:fs/promises';
import { Refusal } from '../http/refusal.js';

/** The longest side of a preview, in pixels. */
const previewSide = 480;
/** Pixels of an image: what unpacks to more is refused before it fills the memory. */
const mostPixels = 100_000_000;
/** Formats of plain text. */
const texts: ReadonlySet<string> = new Set([
  'txt',
  'csv',
  'tsv',
  'md',
  'json',
  'html',
  'css',
  'js',
  'xml',
  'svg',
  'log',
  'ics',
  'vcf',
  'eml',
  'yaml',
  'yml',
  'gpx',
  'kml',
]);
/** Formats that people take for one another, and that the same programs open. */
const families: readonly (readonly string[])[] = [imageEndings, ['mp4', 'm4v', 'm4a', 'm4b', 'mov', '3gp'], ['ogg', 'oga', 'ogv', 'opus']];

export interface FileLook {
  /** As it is kept: with the ending of its content. */
  readonly name: string;
  readonly ending: string;
  /** An image of it, small enough for a list; null when it is no image. */
  readonly preview: Buffer | null;
}

/** @throws Refusal invalid when its content is not what its name says, or an image can't be read */
export async function look(path: string, name: string): Promise<FileLook> {
  const named = endingOf(name);
  const ending = await endingFor(path, name);
  const preview = imageEndings.includes(ending) ? await previewOf(path, name) : null;
  return { name: ending === named ? name : withEnding(name, named, ending), ending, preview };
}

/** The ending that a file is kept with. */
async function endingFor(path: string, name: string): Promise<string> {
  const named = endingOf(name);
  // Texts have no mark at their beginning, and some begin like something else.
  if (texts.has(named)) {
    if (await isText(path)) return named;
    throw unlike(name, 'not text');
  }
  const { fileTypeFromFile, supportedExtensions } = await import('file-type');
  const found = (await fileTypeFromFile(path))?.ext;
  if (named === '') return found ?? '';
  // Of a format without a mark nothing is known but its name.
  if (found === named || !supportedExtensions.has(named)) return named;
  if (found === undefined) throw unlike(name, 'something else');
  // A photo under the ending of another format is still a photo.
  if (families.some((family) => family.includes(found) && family.includes(named))) return found;
  throw unlike(name, found.toUpperCase());
}

/** Whether the beginning of a file is text, in UTF-8 or an older encoding. */
async function isText(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const head = Buffer.alloc(8192);
    const { bytesRead } = await file.read(head, 0, head.length, 0);
    const start = head.subarray(0, bytesRead);
    // UTF-16 begins with its own mark and is half zeros.
    return (start[0] === 0xff && start[1] === 0xfe) || (start[0] === 0xfe && start[1] === 0xff) || !start.some((byte) => byte < 9 || (byte > 13 && byte < 27));
  } finally {
    await file.close();
  }
}

const unlike = (name: string, what: string): Refusal =>
  new Refusal('invalid', `“${name}” is not what its name says: its content is ${what}. Nothing was stored. Choose the right file, or give it its true ending.`);

const withEnding = (name: string, named: string, ending: string): string => `${named === '' ? name : name.replace(/\.[^.]*$/u, '')}.${ending}`;

async function previewOf(path: string, name: string): Promise<Buffer> {
  const { default: sharp } = await import('sharp');
  try {
    return await sharp(path, { limitInputPixels: mostPixels })
      .autoOrient()
      .resize(previewSide, previewSide, { fit: 'inside', withoutEnlargement: true })
      .webp({ quality: 78 })
      .toBuffer();
  } catch {
    throw new Refusal(
      'invalid',
      `The image “${name}” is damaged or too large, and can't be read. Nothing was stored. Open it in another program, save it again and choose it once more.`,
    );
  }
}
