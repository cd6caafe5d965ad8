/** Writing a syntax tree as text again, in one way of spacing and with no more brackets than it needs. */
import type { Syntax } from './syntax.js';

// How tightly each kind binds; what binds less than its place allows is in brackets.
const tightness: Readonly<Record<Syntax['kind'], number>> = {
  if: 0,
  for: 0,
  some: 0,
  every: 0,
  function: 0,
  or: 1,
  and: 2,
  compare: 3,
  between: 3,
  in: 3,
  test: 3,
  instance: 3,
  arithmetic: 4,
  negative: 7,
  number: 9,
  string: 9,
  boolean: 9,
  null: 9,
  at: 9,
  name: 9,
  path: 9,
  filter: 9,
  call: 9,
  list: 9,
  range: 9,
  context: 9,
};
const ofOp = { '+': 4, '-': 4, '*': 5, '/': 5, '**': 6 } as const;
// The grammar takes all that follows `in (x)` as its test: alone in its brackets it needs brackets around itself as well.
const bindingOf = (syntax: Syntax): number =>
  syntax.kind === 'arithmetic' ? ofOp[syntax.op] : syntax.kind === 'in' && syntax.tests.length === 1 ? 0 : tightness[syntax.kind];

/** @param name gives the spelling of a name, whose marks are spaced out in the tree */
export function write(syntax: Syntax, name: (name: string) => string): string {
  const at = (part: Syntax, least: number): string => (bindingOf(part) < least ? `(${write(part, name)})` : write(part, name));
  const list = (parts: readonly Syntax[]): string => parts.map((part) => write(part, name)).join(', ');
  switch (syntax.kind) {
    case 'number':
      return syntax.digits;
    case 'string':
      return writtenText(syntax.value);
    case 'boolean':
      return String(syntax.value);
    case 'null':
      return 'null';
    case 'at':
      return `@"${syntax.text}"`;
    case 'name':
      return name(syntax.name);
    case 'path':
      return `${at(syntax.of, 9)}.${name(syntax.name)}`;
    case 'filter':
      return `${at(syntax.of, 9)}[${write(syntax.by, name)}]`;
    case 'call':
      return `${syntax.name}(${syntax.args.map((arg) => (arg.name === null ? write(arg.value, name) : `${arg.name}: ${write(arg.value, name)}`)).join(', ')})`;
    case 'arithmetic': {
      const own = ofOp[syntax.op];
      return `${at(syntax.left, own)} ${syntax.op} ${at(syntax.right, own + 1)}`;
    }
    case 'negative':
      return `-${at(syntax.of, 7)}`;
    case 'compare':
      return `${at(syntax.left, 4)} ${syntax.op} ${at(syntax.right, 4)}`;
    case 'test':
      return `${syntax.op} ${at(syntax.right, 4)}`;
    case 'between':
      return `${at(syntax.of, 4)} between ${at(syntax.low, 4)} and ${at(syntax.high, 4)}`;
    case 'in':
      return `${at(syntax.of, 4)} in ${syntax.tests.length === 1 && syntax.tests[0] !== undefined && syntax.tests[0].kind !== 'string' ? at(syntax.tests[0], 4) : `(${list(syntax.tests)})`}`;
    case 'and':
    case 'or': {
      const own = tightness[syntax.kind];
      return `${at(syntax.left, own)} ${syntax.kind} ${at(syntax.right, own + 1)}`;
    }
    case 'if':
      return `if ${write(syntax.condition, name)} then ${write(syntax.then, name)} else ${write(syntax.otherwise, name)}`;
    case 'for':
    case 'some':
    case 'every': {
      const bindings = syntax.bindings.map(
        (binding) =>
          `${binding.name} in ${binding.over.kind === 'range' ? `${at(binding.over.low, 4)}..${at(binding.over.high, 4)}` : write(binding.over, name)}`,
      );
      return `${syntax.kind} ${bindings.join(', ')} ${syntax.kind === 'for' ? 'return' : 'satisfies'} ${write(syntax.body, name)}`;
    }
    case 'list':
      return `[${list(syntax.items)}]`;
    case 'range':
      return `${syntax.lowIncluded ? '[' : '('}${write(syntax.low, name)}..${write(syntax.high, name)}${syntax.highIncluded ? ']' : ')'}`;
    case 'context':
      return `{${syntax.entries.map((entry) => `${entry.name}: ${write(entry.value, name)}`).join(', ')}}`;
    case 'instance':
      return `${at(syntax.of, 4)} instance of ${syntax.type}`;
    case 'function':
      return `function(${syntax.parameters.join(', ')}) ${write(syntax.body, name)}`;
    default:
      return syntax satisfies never;
  }
}

/** A text as the language writes it, with what has a meaning in it escaped. */
export const writtenText = (text: string): string =>
  `"${text.replace(/[\\"]/gu, '\\$&').replace(/\n/gu, '\\n').replace(/\r/gu, '\\r').replace(/\t/gu, '\\t')}"`;
