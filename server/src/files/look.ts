/** What a file is, by its content: its name says what people meant it to be, and nothing more. */
import { endingOf, imageEndings } from '@bibliona/core';
import { fileTypeFromFile, supportedExtensions } from 'file-type';
import sharp from 'sharp';
import { Refusal } from '../http/refusal.js';

/** The longest side of a preview, in pixels. */
const previewSide = 480;
/** Pixels of an image: what unpacks to more is refused before it fills the memory. */
const mostPixels = 100_000_000;
/** Formats that hold others: what their endings say is believed. */
const containers: ReadonlySet<string> = new Set(['zip', 'xml', 'cfb', 'gz', 'tar']);
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
  const ending = endingFor(name, named, (await fileTypeFromFile(path))?.ext);
  const preview = imageEndings.includes(ending) ? await previewOf(path, name) : null;
  return { name: ending === named ? name : withEnding(name, named, ending), ending, preview };
}

/** The ending that a file is kept with. */
function endingFor(name: string, named: string, found: string | undefined): string {
  const isMarked = (supportedExtensions as ReadonlySet<string>).has(named);
  if (found === undefined) {
    // Texts have no mark at their beginning by which they are known; a format that has one is not this.
    if (isMarked) throw unlike(name, 'something else');
    return named;
  }
  if (found === named || (containers.has(found) && !isMarked && named !== '')) return named;
  // A photo under the ending of another format is still a photo.
  if (named === '' || families.some((family) => family.includes(found) && family.includes(named))) return found;
  throw unlike(name, found.toUpperCase());
}

const unlike = (name: string, what: string): Refusal =>
  new Refusal('invalid', `“${name}” is not what its name says: its content is ${what}. Nothing was stored. Choose the right file, or give it its true ending.`);

const withEnding = (name: string, named: string, ending: string): string => `${named === '' ? name : name.replace(/\.[^.]*$/u, '')}.${ending}`;

async function previewOf(path: string, name: string): Promise<Buffer> {
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
