/** The grammar of lezer-feel, which reads names with spaces when it is told which there are. */
import { ContextTracker, type LRParser } from '@lezer/lr';
import { parser as feel } from 'lezer-feel';
import type { NameSet } from './names.js';

/**
 * What the grammar's reader of names asks of its context (its own tracker follows the values too, which takes four
 * times as long and throws on some broken texts). A name's parts gather in `tokens` until it is whole.
 */
class Names {
  constructor(
    private readonly known: NameSet,
    readonly tokens: readonly string[],
  ) {}
  contextCache(): NameSet {
    return this.known;
  }
  with(part: string): Names {
    // No name has this many parts: what comes is a run of words, whose end need not be looked for.
    return this.tokens.length > 40 ? this : new Names(this.known, [...this.tokens, part]);
  }
  cleared(): Names {
    return this.tokens.length === 0 ? this : new Names(this.known, []);
  }
  defining(): Names {
    const name = this.tokens.join(' ');
    if (this.tokens.length < 2) return this.cleared();
    const keys = new Set(this.known.keys).add(name);
    const prefixes = new Set(this.known.prefixes);
    for (let i = 1; i <= name.length; i += 1) prefixes.add(name.slice(0, i));
    return new Names({ keys, prefixes }, []);
  }
}

const termsCalled = (...names: readonly string[]): ReadonlySet<number> =>
  new Set(feel.nodeSet.types.filter((type) => names.includes(type.name)).map((type) => type.id));
const nameParts = termsCalled('Identifier', 'PropertyIdentifier');
const usedNames = termsCalled('VariableName', 'PathName');
const newNames = termsCalled('Name', 'PropertyName');

interface ReadableInput {
  readonly pos: number;
  read(from: number, to: number): string;
}

const parsers = new WeakMap<NameSet, LRParser>();
/** The grammar with the names that are known at a place: also what colours the text in the editor. */
export function parserFor(known: NameSet): LRParser {
  let parser = parsers.get(known);
  if (parser === undefined) {
    const tracker = new ContextTracker<Names>({
      start: new Names(known, []),
      strict: false,
      reduce(names, term, stack, input) {
        const text = input as unknown as ReadableInput;
        if (nameParts.has(term)) return names.with(text.read(text.pos, stack.pos));
        if (usedNames.has(term)) return names.cleared();
        return newNames.has(term) ? names.defining() : names;
      },
    });
    parsers.set(known, (parser = feel.configure({ contextTracker: tracker })));
  }
  return parser;
}
