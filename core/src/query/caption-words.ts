/** What captions are made of, as far as it lets an index find records by what they are called. */
import type { Node } from '../expression/node.js';
import { kindOf } from '../fields/kinds.js';

export interface CaptionWords {
  /** The texts between the values of fields. */
  readonly constants: readonly string[];
  /** Whether values are in it that are written with digits, which no search looks through. */
  readonly hasNumbers: boolean;
  /** Whether texts of the record itself are in it, and the references whose records' texts are. */
  readonly hasOwn: boolean;
  readonly references: ReadonlySet<string>;
}

/** What is put together, one after the other; null where it is anything but values and texts. */
function pieces(node: Node): readonly Node[] | null {
  const all = (nodes: readonly Node[]): readonly Node[] | null => {
    const parts = nodes.map(pieces);
    return parts.every((part) => part !== null) ? parts.flat() : null;
  };
  if (node.kind === 'field' || node.kind === 'constant') return [node];
  if (node.kind === 'arithmetic') return node.way.op === '+' && node.type.kind === 'string' ? all([node.left, node.right]) : null;
  if (node.kind === 'call' && node.builtIn.name === 'string' && node.args.length === 1 && node.args[0] !== undefined) return pieces(node.args[0]);
  if (node.kind !== 'call' || node.builtIn.name !== 'string join') return null;
  const [list, between] = node.args;
  if (list?.kind !== 'list' || (between !== undefined && between.kind !== 'constant')) return null;
  return all(list.items.flatMap((item, i) => (i === 0 || between === undefined ? [item] : [between, item])));
}

/** Whether a search in the list looks through the value as the caption shows it: of the record, or of one that it refers to. */
function isSearched(node: Extract<Node, { kind: 'field' }>): boolean {
  const { traits, column } = kindOf(node.field);
  const isNear = node.of.kind === 'self' || (node.of.kind === 'parent' && node.of.of.kind === 'self');
  return isNear && traits.searched && column !== null && column.stored === undefined && column.elements === undefined;
}

/** Numbers and dates are written with digits and signs, and with no letter. */
const writtenInDigits: readonly string[] = ['number', 'date'];
const isInDigits = (node: Node): boolean => node.kind === 'field' && writtenInDigits.includes(node.type.kind);

/**
 * The texts between the values, where each word of a caption is within one of those or within a value that is searched. Null
 * where a word could be anything else: a time as it is written, or a value and a text without a blank between them.
 */
export function wordsOfCaption(caption: Node): CaptionWords | null {
  const parts = pieces(caption);
  if (parts === null) return null;
  const isApart = (part: Node, i: number): boolean => {
    if (part.kind === 'field') return (isInDigits(part) || isSearched(part)) && parts[i + 1]?.kind !== 'field';
    if (part.kind !== 'constant' || typeof part.value !== 'string') return false;
    return (i === 0 || /^\s/u.test(part.value)) && (i === parts.length - 1 || /\s$/u.test(part.value));
  };
  if (!parts.every(isApart)) return null;
  return {
    constants: parts.flatMap((part) => (part.kind === 'constant' && typeof part.value === 'string' ? [part.value.toLowerCase()] : [])),
    hasNumbers: parts.some(isInDigits),
    hasOwn: parts.some((part) => part.kind === 'field' && !isInDigits(part) && part.of.kind === 'self'),
    references: new Set(parts.flatMap((part) => (part.kind === 'field' && part.of.kind === 'parent' ? [part.of.field.id] : []))),
  };
}
