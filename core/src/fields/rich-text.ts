/**
 * Formatted text. A value is JSON of its plain text and its document, `{"text":…,"doc":…}`: the document is a tree of
 * blocks, and nothing is in it but what is named here. Expressions, searches and files see the plain text.
 */
import { z } from 'zod';
import { types } from '../feel/types.js';
import { wants } from '../feel/wants.js';
import { writtenText } from '../feel/write.js';
import { literal } from '../sql/sql.js';
import { neverUnique, readsAlike, type FieldKind } from './kind.js';
import { textTraits } from './read-text.js';
import { bad, good, type Value } from './value.js';

const shape = z.object({ kind: z.literal('rich_text'), ...neverUnique, default: z.null().default(null) });

/** Of a value, in characters. */
const longest = 500_000;
/** Lists in lists and tables in them, each an object with a list of others. */
const deepest = 50;

/** Addresses that a link can lead to. */
const Address = z
  .string()
  .max(2000)
  .regex(/^(?:https?:\/\/|mailto:|tel:)[^\s<>"]+$/iu);
const Mark = z.discriminatedUnion('type', [
  z.object({ type: z.enum(['bold', 'italic', 'underline', 'strike', 'code']) }),
  z.object({ type: z.literal('link'), attrs: z.object({ href: Address }) }),
]);
export type RichMark = z.infer<typeof Mark>;

const Text = z.object({ type: z.literal('text'), text: z.string().min(1), marks: z.array(Mark).max(10).optional() });
const Break = z.object({ type: z.literal('hardBreak') });
const inline = z.array(z.union([Text, Break]));
const span = z.number().int().min(1).max(50).default(1);

interface Block {
  readonly type: string;
  readonly attrs?: Readonly<Record<string, unknown>> | undefined;
  readonly content?: readonly RichNode[] | undefined;
}
export type RichNode = z.infer<typeof Text> | z.infer<typeof Break> | Block;
export interface RichDocument {
  readonly type: 'doc';
  readonly content: readonly RichNode[];
}

const blocks: z.ZodType<RichNode[]> = z.lazy(() => z.array(Block));
const within = <T extends string>(type: T) => z.object({ type: z.literal(type), content: blocks });
const Cell = z.object({
  type: z.enum(['tableCell', 'tableHeader']),
  attrs: z.object({ colspan: span, rowspan: span }).default({ colspan: 1, rowspan: 1 }),
  content: blocks,
});
const Block: z.ZodType<RichNode> = z.lazy(() =>
  z.discriminatedUnion('type', [
    z.object({ type: z.literal('paragraph'), content: inline.optional() }),
    z.object({ type: z.literal('heading'), attrs: z.object({ level: z.number().int().min(1).max(3) }), content: inline.optional() }),
    within('blockquote'),
    z.object({ type: z.literal('bulletList'), content: z.array(within('listItem')) }),
    z.object({
      type: z.literal('orderedList'),
      attrs: z.object({ start: z.number().int().min(0).max(1_000_000).default(1) }).default({ start: 1 }),
      content: z.array(within('listItem')),
    }),
    z.object({ type: z.literal('horizontalRule') }),
    z.object({ type: z.literal('table'), content: z.array(z.object({ type: z.literal('tableRow'), content: z.array(Cell) })) }),
  ]),
);
const Document = z.object({ type: z.literal('doc'), content: blocks });

const contentOf = (node: RichNode): readonly RichNode[] => ('content' in node ? (node.content ?? []) : []);
const isShallow = (json: unknown, left: number): boolean =>
  left > 0 && (typeof json !== 'object' || json === null || Object.values(json).every((part) => isShallow(part, left - 1)));

/** The words of a document: a line for each paragraph, and the cells of a row side by side. */
function linesOf(node: RichNode): readonly string[] {
  if (node.type === 'paragraph' || node.type === 'heading')
    return contentOf(node)
      .map((part) => ('text' in part ? part.text : '\n'))
      .join('')
      .split('\n');
  if (node.type === 'tableRow')
    return [
      contentOf(node)
        .map((cell) => linesOf(cell).join(' '))
        .join('\t'),
    ];
  return contentOf(node).flatMap(linesOf);
}
const plainOf = (doc: RichDocument): string => doc.content.flatMap(linesOf).join('\n').trim();

/** The value of a document, cleaned of all that is not named here; null where it has no words. */
export function richTextAs(json: unknown): string | null {
  if (!isShallow(json, deepest)) return null;
  const read = Document.safeParse(json);
  if (!read.success) return null;
  const { content } = read.data as RichDocument;
  // An editor leaves empty lines behind what was written.
  const last = content.findLastIndex((block) => block.type !== 'paragraph' || contentOf(block).length > 0);
  const doc: RichDocument = { type: 'doc', content: content.slice(0, last + 1) };
  const text = plainOf(doc);
  const value = JSON.stringify({ text, doc });
  return text === '' || value.length > longest || !text.isWellFormed() || text.includes('\0') ? null : value;
}
/** The value of a plain text: a paragraph for each line. */
export const richTextOf = (text: string): string | null =>
  richTextAs({
    type: 'doc',
    content: text.split(/\r\n|\r|\n/u).map((line) => ({ type: 'paragraph', ...(line === '' ? {} : { content: [{ type: 'text', text: line }] }) })),
  });

function jsonIn(value: unknown): { readonly text: string; readonly doc: RichDocument } | null {
  if (typeof value !== 'string' || !value.startsWith('{"text":') || value.length > longest) return null;
  try {
    return JSON.parse(value) as { text: string; doc: RichDocument };
  } catch {
    return null;
  }
}
/** The document of a value; null where it is none. */
export const documentIn = (value: unknown): RichDocument | null => jsonIn(value)?.doc ?? null;
const textOf = (value: Value): string => String(jsonIn(value)?.text ?? '');
/** A value that was sent, in its one form; null where it is none. */
const cleaned = (value: unknown): string | null => richTextAs(documentIn(value));

const seen = (column: string): string => `(${column}::jsonb ->> 'text')`;
const noDocument: RichDocument = { type: 'doc', content: [] };
const none = 'must be formatted text';

export const richText = {
  word: 'Formatted text',
  description: 'with headings, lists, links and tables',
  named: /\b(?:article|report text|minutes|agenda|letter)\b/iu,
  shape,
  traits: { ...textTraits, formWidth: 12, listWidth: 260, rowWidth: 220, canBeUnique: false, canBeIndexed: false, listed: false },
  digits: () => null,
  value: {
    parse: (typed) => {
      if (typed.trim() === '') return good(null);
      const value = cleaned(typed) ?? richTextOf(typed);
      return value === null ? bad('The text is longer than 500,000 characters, or holds characters that cannot be stored') : good(value);
    },
    print: textOf,
    typed: (value) => (typeof value === 'string' ? value : ''),
    problem: (value) => (cleaned(value) === null ? none : null),
    normal: (value) => cleaned(value) ?? value,
    same: (a, b) => a === b,
    exported: textOf,
  },
  feel: {
    type: () => types.string,
    from: textOf,
    to: (computed) => (typeof computed === 'string' ? richTextOf(computed) : null),
    literal: (value) => writtenText(textOf(value)),
    wanted: wants.text,
  },
  column: {
    type: () => 'text',
    constant: (value) => literal(String(value)),
    rules: () => [],
    sortKey: seen,
    sortType: 'text',
    sent: (column) => column,
    isWhole: true,
    shortened: {
      value: (value, most) => (value.length <= most ? value : JSON.stringify({ text: `${textOf(value).slice(0, most)}…`, doc: noDocument })),
      sql: (column, most) =>
        `CASE WHEN length(${column}) <= ${most} THEN ${column} ELSE '{"text":' || to_jsonb(left(${seen(column)}, ${most}) || '…')::text || ',"doc":' || ${literal(JSON.stringify(noDocument))} || '}' END`,
    },
    stored: () => ({ seen, constant: () => null, isOrdered: false }),
    asText: seen,
    saysLess: true,
    fromText: (text) => `feel.rich_text(${text})`,
    takesEveryText: false,
    conversions: (_, before, after) => (after.kind === before.kind ? null : 'through text'),
  },
  cells: {
    reader: () => (text) => richTextOf(text) ?? { problem: 'is longer than 500,000 characters' },
    ...readsAlike,
    reading: null,
    settingsFor: null,
  },
  sample: {
    settings: [{}],
    values: (fc) =>
      fc.constantFrom(
        richTextOf('one line'),
        richTextOf('two\nlines, "quoted" \\ =1'),
        richTextAs({
          type: 'doc',
          content: [
            { type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: 'Heading' }] },
            {
              type: 'bulletList',
              content: [{ type: 'listItem', content: [{ type: 'paragraph', content: [{ type: 'text', text: 'an item', marks: [{ type: 'bold' }] }] }] }],
            },
          ],
        }),
      ),
  },
} as const satisfies FieldKind<z.infer<typeof shape>>;
