/**
 * Patterns of `matches`, `replace` and `split`. DMN takes the regular expressions of XPath; here they are those of them
 * that the database and memory read alike, both in time proportional to the text. A pattern is always written out.
 *
 * Engines differ in which of several possible matches they take: so where the match itself matters (replace, split)
 * only patterns have access that can match a text in one way: after each sign it is clear from the next one where in the
 * pattern it stands (A. Brüggemann-Klein, "One-unambiguous regular languages").
 */
import { RegExpParser, type AST } from '@eslint-community/regexpp';
import { RE2JS } from 're2js';

type Spans = readonly (readonly [low: number, high: number])[];

type Piece =
  | { readonly kind: 'signs'; readonly spans: Spans }
  | { readonly kind: 'sequence'; readonly of: readonly Piece[] }
  | { readonly kind: 'either'; readonly of: readonly Piece[] }
  | { readonly kind: 'group'; readonly of: Piece; readonly captures: boolean }
  | { readonly kind: 'repeat'; readonly of: Piece; readonly min: number; readonly max: number }
  | { readonly kind: 'start' | 'end' };

export type PatternResult =
  | { readonly ok: true; readonly pattern: Pattern }
  | { readonly ok: false; readonly message: string; /** It is the flags that cannot be read. */ readonly ofFlags?: true };

export interface Pattern {
  /** The pattern in the dialect of PostgreSQL, every set of signs written out. */
  readonly sql: string;
  readonly inMemory: RE2JS;
  readonly groups: number;
  /** Whether a text can be matched in one way only; else why not. */
  readonly ambiguous: string | null;
  /** Whether it matches the empty text, which `replace` and `split` cannot use. */
  readonly matchesEmpty: boolean;
}

class Refused extends Error {}

const longestPattern = 500;
const mostRepeats = 100;
const mostPositions = 300;

const patterns = new Map<string, PatternResult>();
const mostKept = 500;

/** Reads a pattern with the flags of XPath (`i`: upper and lower case are the same, `s`: a dot is any sign). */
export function readPattern(text: string, flags = ''): PatternResult {
  const name = `${flags}/${text}`;
  const known = patterns.get(name);
  if (known !== undefined) return known;
  if (patterns.size >= mostKept) patterns.clear();
  const result = read(text, flags);
  patterns.set(name, result);
  return result;
}

function read(text: string, flags: string): PatternResult {
  if (text.length > longestPattern) return { ok: false, message: `A pattern has at most ${longestPattern} signs.` };
  if (/[^is]/u.test(flags))
    return { ok: false, ofFlags: true, message: 'The flags of a pattern are i (upper and lower case are the same) and s (a dot is any sign).' };
  try {
    const parsed = new RegExpParser({ ecmaVersion: 2023 }).parsePattern(text, 0, text.length, { unicode: true });
    const piece = pieceOf(parsed, { fold: flags.includes('i'), dotAll: flags.includes('s') });
    const facts = new Positions().facts(piece);
    return {
      ok: true,
      pattern: {
        sql: `(?:${print(piece, sqlSign)})`,
        inMemory: RE2JS.compile(print(piece, re2Sign)),
        groups: countGroups(piece),
        ambiguous: facts.ambiguous,
        matchesEmpty: facts.nullable,
      },
    };
  } catch (error) {
    if (error instanceof Refused) return { ok: false, message: error.message };
    return {
      ok: false,
      message: `This pattern cannot be read: ${error instanceof Error ? error.message.replace(/^Invalid regular expression: \/.*\/u?: /u, '') : 'it is broken'}.`,
    };
  }
}

interface Options {
  readonly fold: boolean;
  readonly dotAll: boolean;
}
const last = 0x10ffff;
const digits: Spans = [[48, 57]];
const wordSigns: Spans = [
  [48, 57],
  [65, 90],
  [95, 95],
  [97, 122],
];
const blanks: Spans = [
  [9, 10],
  [13, 13],
  [32, 32],
];

function normal(spans: Spans): Spans {
  const sorted = [...spans].sort((a, b) => a[0] - b[0]);
  const merged: [number, number][] = [];
  for (const [low, high] of sorted) {
    const before = merged.at(-1);
    if (before !== undefined && low <= before[1] + 1) before[1] = Math.max(before[1], high);
    else merged.push([low, high]);
  }
  return merged;
}

// Surrogates are no signs of a text, and NUL cannot be in one: leaving both out keeps the two engines' sets equal.
const storable: Spans = [
  [1, 0xd7ff],
  [0xe000, last],
];
function without(spans: Spans): Spans {
  const taken = normal(spans);
  const rest: [number, number][] = [];
  for (const [from, to] of storable) {
    let low = from;
    for (const [a, b] of taken) {
      if (b < low || a > to) continue;
      if (a > low) rest.push([low, a - 1]);
      low = b + 1;
    }
    if (low <= to) rest.push([low, to]);
  }
  return rest;
}

function folded(spans: Spans): Spans {
  const all: [number, number][] = spans.map(([a, b]) => [a, b]);
  for (const [low, high] of spans) {
    if (high - low > 2000) continue;
    for (let code = low; code <= high; code += 1) {
      const sign = String.fromCodePoint(code);
      for (const other of [sign.toLowerCase(), sign.toUpperCase()]) {
        const point = other.codePointAt(0) ?? code;
        if ([...other].length === 1) all.push([point, point]);
      }
    }
  }
  return normal(all);
}

function setOf(kind: AST.CharacterSet, options: Options): Spans {
  if (kind.kind === 'any')
    return options.dotAll
      ? storable
      : without([
          [10, 10],
          [13, 13],
        ]);
  if (kind.kind === 'property') throw new Refused('Classes of signs such as \\p{L} are not the same everywhere. Write the signs out, for example [a-zA-Z].');
  const spans = kind.kind === 'digit' ? digits : kind.kind === 'word' ? wordSigns : blanks;
  return kind.negate ? without(spans) : spans;
}

function pieceOf(node: AST.Element | AST.Pattern | AST.Alternative, options: Options): Piece {
  const signs = (spans: Spans): Piece => ({ kind: 'signs', spans: normal(options.fold ? folded(spans) : spans) });
  switch (node.type) {
    case 'Pattern':
      return either(node.alternatives, options);
    case 'Alternative':
      return { kind: 'sequence', of: node.elements.map((element) => pieceOf(element, options)) };
    case 'Group':
      return { kind: 'group', of: either(node.alternatives, options), captures: false };
    case 'CapturingGroup':
      if (node.name !== null) throw new Refused('A group in a pattern has a number, not a name.');
      return { kind: 'group', of: either(node.alternatives, options), captures: true };
    case 'Character':
      if (node.value === 0) throw new Refused('A pattern cannot hold this sign.');
      return signs([[node.value, node.value]]);
    case 'CharacterSet':
      return signs(setOf(node, options));
    case 'CharacterClass': {
      const spans = node.elements.flatMap((element): Spans => {
        if (element.type === 'Character') return [[element.value, element.value]];
        if (element.type === 'CharacterClassRange') return [[element.min.value, element.max.value]];
        if (element.type === 'CharacterSet') return setOf(element, { ...options, dotAll: true });
        throw new Refused('This kind of set is not read alike everywhere. Write the signs out.');
      });
      const all = options.fold ? folded(spans) : normal(spans);
      const signs = node.negate ? without(all) : all;
      if (signs.length === 0) throw new Refused('This set holds no sign at all.');
      return { kind: 'signs', spans: signs };
    }
    case 'Quantifier': {
      if (!node.greedy) throw new Refused('Repeats that take as little as possible (such as *?) are not read alike everywhere.');
      const max = Number.isFinite(node.max) ? node.max : Infinity;
      if (node.min > mostRepeats || (max !== Infinity && max > mostRepeats)) throw new Refused(`A pattern repeats a part at most ${mostRepeats} times.`);
      const of = pieceOf(node.element, options);
      if (of.kind === 'start' || of.kind === 'end') throw new Refused('A beginning or an end cannot be repeated.');
      return { kind: 'repeat', of, min: node.min, max };
    }
    case 'Assertion':
      if (node.kind === 'start' || node.kind === 'end') return { kind: node.kind };
      throw new Refused('Patterns that look ahead or behind are not read alike everywhere.');
    case 'Backreference':
      throw new Refused('A pattern that repeats what a group has matched can take forever, so it cannot be used.');
    default:
      throw new Refused('This part of the pattern is not read alike everywhere.');
  }
}

function either(alternatives: readonly AST.Alternative[], options: Options): Piece {
  const of = alternatives.map((alternative) => pieceOf(alternative, options));
  return of.length === 1 && of[0] !== undefined ? of[0] : { kind: 'either', of };
}

const countGroups = (piece: Piece): number => {
  switch (piece.kind) {
    case 'signs':
    case 'start':
    case 'end':
      return 0;
    case 'sequence':
    case 'either':
      return piece.of.reduce((sum, each) => sum + countGroups(each), 0);
    case 'group':
      return countGroups(piece.of) + (piece.captures ? 1 : 0);
    case 'repeat':
      return countGroups(piece.of);
    default:
      return piece satisfies never;
  }
};

const hex = (code: number, width: number): string => code.toString(16).padStart(width, '0');
const sqlSign = (code: number): string => (code > 0xffff ? `\\U${hex(code, 8)}` : `\\u${hex(code, 4)}`);
const re2Sign = (code: number): string => `\\x{${code.toString(16)}}`;

function print(piece: Piece, sign: (code: number) => string): string {
  switch (piece.kind) {
    case 'signs':
      return `[${piece.spans.map(([low, high]) => (low === high ? sign(low) : `${sign(low)}-${sign(high)}`)).join('')}]`;
    case 'start':
      return '^';
    case 'end':
      return '$';
    case 'sequence':
      return piece.of.map((each) => print(each, sign)).join('');
    case 'either':
      return `(?:${piece.of.map((each) => print(each, sign)).join('|')})`;
    case 'group':
      return `(${piece.captures ? '' : '?:'}${print(piece.of, sign)})`;
    case 'repeat': {
      const inner = piece.of.kind === 'group' || piece.of.kind === 'signs' ? print(piece.of, sign) : `(?:${print(piece.of, sign)})`;
      return `${inner}{${piece.min},${piece.max === Infinity ? '' : piece.max}}`;
    }
    default:
      return piece satisfies never;
  }
}

interface Facts {
  readonly nullable: boolean;
  readonly first: ReadonlySet<number>;
  readonly last: ReadonlySet<number>;
}

/** The positions of signs in a pattern and which can follow which (V. Glushkov's construction). */
class Positions {
  private readonly spans: Spans[] = [];
  private readonly follow: Set<number>[] = [];

  facts(piece: Piece): { readonly nullable: boolean; readonly ambiguous: string | null } {
    const whole = this.of(piece, true);
    const clash = [whole.first, ...this.follow].some((set) => this.overlaps(set));
    return {
      nullable: whole.nullable,
      ambiguous:
        clash || hasRepeatedGroup(piece) ? 'This pattern can match the same text in several ways. Make its parts start with different characters.' : null,
    };
  }

  private overlaps(set: ReadonlySet<number>): boolean {
    const all = [...set].flatMap((at) => [...(this.spans[at] ?? [])]).sort((a, b) => a[0] - b[0]);
    return all.some(([low], i) => i > 0 && low <= (all[i - 1]?.[1] ?? -1));
  }

  private link(from: ReadonlySet<number>, to: ReadonlySet<number>): void {
    for (const at of from) for (const next of to) this.follow[at]?.add(next);
  }

  private of(piece: Piece, atEdge: boolean): Facts {
    switch (piece.kind) {
      case 'signs': {
        const at = this.spans.push(piece.spans) - 1;
        if (at > mostPositions) throw new Refused('This pattern is too large.');
        this.follow.push(new Set());
        return { nullable: false, first: new Set([at]), last: new Set([at]) };
      }
      case 'start':
      case 'end':
        if (!atEdge) throw new Refused('Use ^ only at the start and $ only at the end of a pattern.');
        return { nullable: true, first: new Set(), last: new Set() };
      case 'group':
        return this.of(piece.of, false);
      case 'either': {
        const parts = piece.of.map((each) => this.of(each, false));
        return {
          nullable: parts.some((part) => part.nullable),
          first: new Set(parts.flatMap((part) => [...part.first])),
          last: new Set(parts.flatMap((part) => [...part.last])),
        };
      }
      case 'sequence':
        return this.sequence(piece.of.map((each, i) => this.of(each, atEdge && (each.kind === 'start' ? i === 0 : i === piece.of.length - 1))));
      case 'repeat': {
        const copies = piece.max === Infinity ? Math.max(1, piece.min) : piece.max;
        const parts: Facts[] = [];
        for (let i = 0; i < copies; i += 1) {
          const part = this.of(piece.of, false);
          if (piece.max === Infinity && i === copies - 1) this.link(part.last, part.first);
          parts.push(i >= piece.min ? { ...part, nullable: true } : part);
        }
        if (parts.length === 0) return { nullable: true, first: new Set(), last: new Set() };
        const all = this.sequence(parts);
        return { ...all, nullable: all.nullable || piece.min === 0 };
      }
      default:
        return piece satisfies never;
    }
  }

  private sequence(parts: readonly Facts[]): Facts {
    let whole: Facts = { nullable: true, first: new Set(), last: new Set() };
    for (const part of parts) {
      this.link(whole.last, part.first);
      whole = {
        nullable: whole.nullable && part.nullable,
        first: new Set(whole.nullable ? [...whole.first, ...part.first] : whole.first),
        last: new Set(part.nullable ? [...whole.last, ...part.last] : part.last),
      };
    }
    return whole;
  }
}

/** A group that captures again and again: which of its rounds counts differs. */
function hasRepeatedGroup(piece: Piece, inRepeat = false): boolean {
  switch (piece.kind) {
    case 'sequence':
    case 'either':
      return piece.of.some((each) => hasRepeatedGroup(each, inRepeat));
    case 'group':
      return (piece.captures && inRepeat) || hasRepeatedGroup(piece.of, inRepeat);
    case 'repeat':
      return hasRepeatedGroup(piece.of, inRepeat || piece.max > 1);
    default:
      return false;
  }
}
