/**
 * Fields that hold files. A value has a line for each: what the file is called, the SHA-256 of its content and its size in
 * bytes, like `hive 12.jpg/9f2c…/48211`. The content is in the store of the server, once for all who hold it.
 */
import { z } from 'zod';
import { types } from '../feel/types.js';
import { writtenText } from '../feel/write.js';
import { wants } from '../feel/wants.js';
import { literal } from '../sql/sql.js';
import { asIs, identical, neverUnique, textOrNothing, type CommonPlan, type FieldKind } from './kind.js';
import { bad, good, type Value } from './value.js';

/** A file as a value names it. */
export interface HeldFile {
  /** With its ending, which is that of its content. */
  readonly name: string;
  /** SHA-256 of the content, in hexadecimal digits. */
  readonly hash: string;
  /** In bytes. */
  readonly size: number;
}

const line = /^([^\p{Cc}/\\]{1,200})\/([0-9a-f]{64})\/(\d{1,12})$/u;
const megabyte = 1_000_000;
/** No field takes larger files, in megabytes. */
export const largestFile = 200;
const mostFiles = 50;

/** The files of a value; what is no file in it is left out. */
export const filesIn = (value: unknown): readonly HeldFile[] =>
  typeof value === 'string'
    ? value.split('\n').flatMap((text) => {
        const [, name = '', hash = '', size = ''] = line.exec(text) ?? [];
        return name === '' ? [] : [{ name, hash, size: Number(size) }];
      })
    : [];
/** The value that names these files; null: none. */
export const filesAs = (files: readonly HeldFile[]): string | null =>
  files.length === 0 ? null : files.map(({ name, hash, size }) => `${name}/${hash}/${size}`).join('\n');

/** Other endings of the same format. */
const sameFormat: Readonly<Partial<Record<string, string>>> = { jpeg: 'jpg', jpe: 'jpg', tiff: 'tif', htm: 'html' };
/** The ending of a name as its format is called here: "jpg" for "Hive.JPEG"; empty where it has none. */
export function endingOf(name: string): string {
  const ending = /\.([a-z0-9]{1,10})$/iu.exec(name)?.[1]?.toLowerCase() ?? '';
  return sameFormat[ending] ?? ending;
}
/** The images that every browser shows. */
export const imageEndings: readonly string[] = ['jpg', 'png', 'gif', 'webp', 'avif'];
export const isImage = (file: Pick<HeldFile, 'name'>): boolean => imageEndings.includes(endingOf(file.name));

const settings = {
  ...neverUnique,
  /** How many files there can be. */
  most: z.number().int().min(1).max(mostFiles).default(10),
  /** In megabytes, each. */
  largest: z.number().int().min(1).max(largestFile).default(25),
  default: z.null().default(null),
};
const imageShape = z.object({ kind: z.literal('image'), ...settings });
const fileShape = z.object({
  kind: z.literal('file'),
  ...settings,
  /** Which files it takes, by their endings; none: any. */
  endings: z
    .array(z.string().regex(/^[a-z0-9]{1,10}$/u, 'is no ending of a file, like pdf'))
    .max(20)
    .readonly()
    .default([]),
});

interface HoldsFiles extends CommonPlan {
  readonly most: number;
  readonly largest: number;
}

/** Why a field doesn't take a file, or null: asked before it is uploaded, and again when it is saved. */
export function fileProblem(file: Pick<HeldFile, 'name' | 'size'>, field: HoldsFiles, endings: readonly string[]): string | null {
  if (file.size > field.largest * megabyte) return `“${file.name}” is larger than ${field.largest} MB`;
  if (file.size === 0) return `“${file.name}” is empty`;
  if (endings.length > 0 && !endings.includes(endingOf(file.name))) return `“${file.name}” is none of these kinds of file: ${endings.join(', ')}`;
  return null;
}

const printed = (value: Value): string =>
  filesIn(value)
    .map((file) => file.name)
    .join(', ');
/** A column with what its files are called, a line each. */
const namesSql = (column: string): string => `regexp_replace(${column}, '/[0-9a-f]{64}/[0-9]+$', '', 'gn')`;

const holding = <F extends HoldsFiles>(
  endingsOf: (field: F) => readonly string[],
): Pick<FieldKind<F>, 'digits' | 'value' | 'feel' | 'column' | 'cells' | 'files'> => ({
  digits: () => null,
  files: { in: filesIn, endings: endingsOf },
  value: {
    parse: (typed) => (typed.trim() === '' ? good(null) : filesIn(typed).length > 0 ? good(typed) : bad('It must be a file that was added')),
    print: printed,
    typed: textOrNothing,
    problem: (value, field) => {
      const files = filesIn(value);
      if (files.length === 0 || filesAs(files) !== value) return 'must be files that were added';
      if (files.length > field.most) return field.most === 1 ? 'holds one file' : `holds up to ${field.most} files`;
      return files.map((file) => fileProblem(file, field, endingsOf(field))).find((problem) => problem !== null) ?? null;
    },
    normal: asIs,
    same: identical,
    exported: (value) =>
      filesIn(value)
        .map((file) => file.name)
        .join('; '),
  },
  feel: {
    type: () => types.string,
    from: printed,
    to: () => null,
    literal: (value) => writtenText(printed(value)),
    wanted: wants.text,
  },
  column: {
    type: () => 'text',
    constant: (value) => literal(String(value)),
    rules: () => [],
    sortKey: (column) => column,
    sortType: 'text',
    sent: (column) => column,
    isWhole: true,
    stored: () => ({ seen: (column) => `replace(${namesSql(column)}, E'\\n', ', ')`, constant: () => null, isOrdered: false }),
    asText: namesSql,
    saysLess: true,
    fromText: () => 'NULL::text',
    takesEveryText: false,
    conversions: (_, before, after) => (after.kind === before.kind ? null : after.kind === 'file' && before.kind === 'image' ? null : 'through text'),
  },
  cells: { reader: null, key: (text) => text, value: (text) => text, reading: null, settingsFor: null },
});

const traits = {
  align: 'left',
  formWidth: 6,
  listWidth: 150,
  rowWidth: 180,
  canBeUnique: false,
  canBeIndexed: false,
  searched: true,
  listed: true,
  caption: false,
  addsUp: false,
  words: true,
} as const;

/** A file for tests. The hash is told by the ending, so that files of one hash are of one kind. */
const sampleFile = (name: string): HeldFile => ({ name, hash: (endingOf(name).charCodeAt(1) % 100).toString().padStart(2, '0').repeat(32), size: 12 });

/** Files of any content, or of some kinds of file. */
export const file = {
  word: 'Files',
  description: 'documents of any kind',
  named: /\b(?:files?|attachments?|documents?|contract|certificate|invoice|pdf)\b/iu,
  shape: fileShape,
  traits,
  ...holding<z.infer<typeof fileShape>>((field) => field.endings),
  sample: {
    settings: [{}, { most: 1, largest: 2, endings: ['pdf'] }],
    values: (fc) => fc.string({ unit: fc.constantFrom(...'ab é-1.'), minLength: 1, maxLength: 20 }).map((name) => filesAs([sampleFile(`${name}.pdf`)])),
  },
} as const satisfies FieldKind<z.infer<typeof fileShape>>;

/** Images, shown as such. */
export const image = {
  word: 'Images',
  description: 'photos and pictures',
  named: /\b(?:photos?|pictures?|images?|logo|portrait|scan)\b/iu,
  shape: imageShape,
  traits: { ...traits, listWidth: 120 },
  ...holding<z.infer<typeof imageShape>>(() => imageEndings),
  sample: {
    settings: [{}, { most: 2 }],
    values: (fc) =>
      fc.array(fc.constantFrom('hive 12.jpg', 'a.png', 'Übersicht.webp'), { minLength: 1, maxLength: 2 }).map((names) => filesAs(names.map(sampleFile))),
  },
} as const satisfies FieldKind<z.infer<typeof imageShape>>;
