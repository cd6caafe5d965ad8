/**
 * From text to syntax tree, by the grammar of lezer-feel. Bad text has a tree as well: parsing never throws, and gives
 * problems with their places.
 */
import type { Tree } from '@lezer/common';
import { depthOf, errorMessage, widen } from './broken.js';
import { parserFor } from './grammar.js';
import { key, type NameSet } from './names.js';
import type { Argument, ArithmeticOp, At, Binding, CompareOp, Problem, Syntax } from './syntax.js';

/** Longer texts, and deeper ones, are refused before they are read: a limit no written expression comes near. */
const longestExpression = 2000;
const deepest = 60;

export interface Parsed {
  readonly syntax: Syntax | null;
  readonly problems: readonly Problem[];
}

export function parse(text: string, known: NameSet): Parsed {
  const refuse = (message: string): Parsed => ({ syntax: null, problems: [{ from: 0, to: text.length, message }] });
  if (text.trim() === '') return refuse('Write what the value is, for example a field of the table.');
  if (text.length > longestExpression) return refuse(`This is longer than ${longestExpression} characters. Put parts of it into formula fields of their own.`);
  if (depthOf(text) > deepest) return refuse(`Brackets are more than ${deepest} deep here. Move parts into formula fields of their own.`);
  const { top, broken } = partsOf(parserFor(known).parse(text));
  if (broken !== null) return { syntax: null, problems: [{ ...widen(broken, text), message: errorMessage(broken, text) }] };
  try {
    return { syntax: new Reader(text).expression(onlyChild(top)), problems: [] };
  } catch (error) {
    if (error instanceof Unreadable) return { syntax: null, problems: [error.problem] };
    throw error;
  }
}

/** A node of the grammar's tree with its children at hand: walking the tree itself costs several times as much. */
interface Part extends At {
  readonly name: string;
  readonly parts: Part[];
}

/** The tree as parts, remarks left out, and the first place where the text stops making sense; what comes after it would only confuse. */
function partsOf(tree: Tree): { readonly top: Part; readonly broken: At | null } {
  let broken: At | null = null;
  const cursor = tree.cursor();
  const read = (): Part => {
    const { name, from, to } = cursor;
    if (cursor.type.isError && (broken === null || from < broken.from)) broken = { from, to };
    const parts: Part[] = [];
    if (cursor.firstChild()) {
      do {
        if (!cursor.name.endsWith('Comment')) parts.push(read());
      } while (cursor.nextSibling());
      cursor.parent();
    }
    return { name, from, to, parts };
  };
  return { top: read(), broken };
}

const children = (node: Part): readonly Part[] => node.parts;

const onlyChild = (node: Part): Part => {
  const [first] = children(node);
  if (first === undefined) throw new Unreadable({ from: node.from, to: node.to, message: 'Something is missing here.' });
  return first;
};

class Unreadable extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}

const arithmetic = new Set(['+', '-', '*', '/', '**']);

class Reader {
  constructor(private readonly text: string) {}

  private slice(node: At): string {
    return this.text.slice(node.from, node.to);
  }
  private refuse(node: At, message: string): never {
    throw new Unreadable({ from: node.from, to: node.to, message });
  }
  private nameOf(node: Part): string {
    return key(this.slice(node));
  }

  expression(node: Part): Syntax {
    const at: At = { from: node.from, to: node.to };
    const parts = children(node);
    switch (node.name) {
      case 'NumericLiteral':
        return this.number(node);
      case 'StringLiteral':
        return { from: node.from, to: node.to, kind: 'string', value: this.string(node) };
      case 'BooleanLiteral':
        return { from: node.from, to: node.to, kind: 'boolean', value: this.slice(node) === 'true' };
      case 'null':
        return { from: node.from, to: node.to, kind: 'null' };
      case 'VariableName':
        return { from: node.from, to: node.to, kind: 'name', name: this.nameOf(node) };
      case '?':
        return this.refuse(node, 'A ? is the value being tested, and nothing is tested here.');
      case 'ParenthesizedExpression':
        return { ...this.expression(this.part(parts, 1, node)), ...at };
      case 'DateTimeLiteral':
        return this.dateTime(node, parts);
      case 'ArithmeticExpression':
        return this.arithmetic(node, parts);
      case 'Comparison':
        return this.comparison(node, parts);
      case 'Conjunction':
      case 'Disjunction':
        return {
          from: node.from,
          to: node.to,
          kind: node.name === 'Conjunction' ? 'and' : 'or',
          left: this.expression(this.part(parts, 0, node)),
          right: this.expression(this.part(parts, 2, node)),
        };
      case 'PathExpression': {
        const name = this.part(parts, 2, node);
        return {
          from: node.from,
          to: node.to,
          kind: 'path',
          of: this.expression(this.part(parts, 0, node)),
          name: this.nameOf(name),
          nameAt: { from: name.from, to: name.to },
        };
      }
      case 'FilterExpression':
        return { from: node.from, to: node.to, kind: 'filter', of: this.expression(this.part(parts, 0, node)), by: this.expression(this.part(parts, 2, node)) };
      case 'FunctionInvocation':
        return this.call(node, parts);
      case 'IfExpression':
        return {
          from: node.from,
          to: node.to,
          kind: 'if',
          condition: this.expression(this.part(parts, 1, node)),
          then: this.expression(this.part(parts, 3, node)),
          otherwise: this.expression(this.part(parts, 5, node)),
        };
      case 'ForExpression':
      case 'QuantifiedExpression':
        return this.iteration(node, parts);
      case 'List':
        return {
          from: node.from,
          to: node.to,
          kind: 'list',
          items: parts
            .filter((part) => !'[],'.includes(part.name))
            .map((part) => (part.name === 'SimplePositiveUnaryTest' ? this.test(part) : this.expression(part))),
        };
      case 'Interval':
        return this.interval(node, parts);
      case 'SimplePositiveUnaryTest':
        return this.test(node);
      case 'Context':
        return { from: node.from, to: node.to, kind: 'context', entries: parts.filter((part) => part.name === 'ContextEntry').map((part) => this.entry(part)) };
      case 'InstanceOfExpression':
        return {
          from: node.from,
          to: node.to,
          kind: 'instance',
          of: this.expression(this.part(parts, 0, node)),
          type: this.slice(this.part(parts, 3, node)).replace(/\s+/gu, ' '),
        };
      case 'FunctionDefinition': {
        const parameters = node.parts.find((part) => part.name === 'FormalParameters');
        const body = node.parts.find((part) => part.name === 'FunctionBody') ?? this.refuse(node, 'This function has no body.');
        const names = parameters === undefined ? [] : children(parameters).map((child) => this.nameOf(child.parts[0] ?? child));
        return { from: node.from, to: node.to, kind: 'function', parameters: names, body: this.expression(onlyChild(body)) };
      }
      default:
        return this.refuse(node, 'This part of the language has no meaning in an app.');
    }
  }

  private part(parts: readonly Part[], index: number, node: Part): Part {
    return parts[index] ?? this.refuse(node, 'Something is missing here.');
  }

  private number(node: Part): Syntax {
    const digits = this.slice(node).replace(/\s/gu, '');
    const [mantissa = '', exponent = '0'] = digits.toLowerCase().split('e');
    const significant = mantissa.replace(/[-.]/gu, '').replace(/^0+/u, '');
    if (significant.length > 34) this.refuse(node, 'A number has at most 34 digits.');
    if (Math.abs(Number(exponent)) > 100) this.refuse(node, 'The exponent of a number lies between -100 and 100.');
    return { from: node.from, to: node.to, kind: 'number', digits };
  }

  private string(node: Part): string {
    const inner = this.slice(node).slice(1, -1);
    const value = inner.replace(/\\(u\{?[0-9a-fA-F]{4,6}\}?|U[0-9a-fA-F]{6}|.)/gu, (whole, escape: string) => {
      const hex = /^[uU]\{?([0-9a-fA-F]{4,6})\}?$/u.exec(escape)?.[1];
      if (hex !== undefined) return Number.parseInt(hex, 16) <= 0x10ffff ? String.fromCodePoint(Number.parseInt(hex, 16)) : whole;
      return { n: '\n', r: '\r', t: '\t', '"': '"', '\\': '\\', "'": "'" }[escape] ?? whole;
    });
    if (value.includes('\0') || !value.isWellFormed()) this.refuse(node, 'This text holds a sign that cannot be stored.');
    return value;
  }

  private dateTime(node: Part, parts: readonly Part[]): Syntax {
    const first = this.part(parts, 0, node);
    if (first.name === 'AtLiteral') return { from: node.from, to: node.to, kind: 'at', text: this.string(onlyChild(first)) };
    return this.call(node, parts);
  }

  private arithmetic(node: Part, parts: readonly Part[]): Syntax {
    const first = this.part(parts, 0, node);
    if (first.name === 'ArithOp') {
      const of = this.expression(this.part(parts, 1, node));
      return this.slice(first) === '-' ? { from: node.from, to: node.to, kind: 'negative', of } : this.refuse(first, 'A plus sign has nothing to add to here.');
    }
    const op = this.slice(this.part(parts, 1, node));
    if (!arithmetic.has(op)) this.refuse(node, `${op} is no way to calculate.`);
    return {
      from: node.from,
      to: node.to,
      kind: 'arithmetic',
      op: op as ArithmeticOp,
      left: this.expression(first),
      right: this.expression(this.part(parts, 2, node)),
    };
  }

  private comparison(node: Part, parts: readonly Part[]): Syntax {
    const of = this.expression(this.part(parts, 0, node));
    const op = this.part(parts, 1, node);
    const word = this.slice(op);
    if (word === 'between')
      return {
        from: node.from,
        to: node.to,
        kind: 'between',
        of,
        low: this.expression(this.part(parts, 2, node)),
        high: this.expression(this.part(parts, 4, node)),
      };
    if (word === 'in') {
      const tests = parts.slice(2).flatMap((part) => (part.name === 'PositiveUnaryTests' ? children(part) : [part]));
      return {
        from: node.from,
        to: node.to,
        kind: 'in',
        of,
        tests: tests.filter((test) => test.name === 'PositiveUnaryTest').map((test) => this.expression(onlyChild(test))),
      };
    }
    return { from: node.from, to: node.to, kind: 'compare', op: word as CompareOp, left: of, right: this.expression(this.part(parts, 2, node)) };
  }

  private test(node: Part): Syntax {
    const parts = children(node);
    const first = this.part(parts, 0, node);
    if (first.name !== 'CompareOp') return this.expression(first);
    return { from: node.from, to: node.to, kind: 'test', op: this.slice(first) as CompareOp, right: this.expression(this.part(parts, 1, node)) };
  }

  private interval(node: Part, parts: readonly Part[]): Syntax {
    const [open, close] = [this.slice(this.part(parts, 0, node)), this.slice(this.part(parts, 4, node))];
    return {
      from: node.from,
      to: node.to,
      kind: 'range',
      low: this.expression(this.part(parts, 1, node)),
      high: this.expression(this.part(parts, 3, node)),
      lowIncluded: open === '[',
      highIncluded: close === ']',
    };
  }

  private call(node: Part, parts: readonly Part[]): Syntax {
    const callee = this.part(parts, 0, node);
    if (callee.name === 'PathExpression' || callee.name === 'FunctionInvocation' || callee.name === 'ParenthesizedExpression')
      this.refuse(callee, 'Only functions of the language can be called.');
    const args = parts.find((part) => part.name === 'PositionalParameters' || part.name === 'NamedParameters');
    const given = args === undefined ? [] : children(args).filter((child) => child.name !== ',');
    const read = (part: Part): Argument => {
      if (part.name !== 'NamedParameter') return { name: null, value: this.expression(part) };
      const [name, value] = children(part).filter((each) => each.name !== ':');
      return name === undefined || value === undefined
        ? this.refuse(part, 'Something is missing here.')
        : { name: this.nameOf(name), value: this.expression(value) };
    };
    return {
      from: node.from,
      to: node.to,
      kind: 'call',
      name: this.slice(callee).replace(/\s+/gu, ' '),
      nameAt: { from: callee.from, to: callee.to },
      args: given.map(read),
    };
  }

  private iteration(node: Part, parts: readonly Part[]): Syntax {
    const word = this.slice(this.part(parts, 0, node)) as 'for' | 'some' | 'every';
    const bindings = parts.find((part) => part.name === 'InExpressions') ?? this.refuse(node, 'This says nothing to go through.');
    const body = this.part(parts, parts.length - 1, node);
    return {
      from: node.from,
      to: node.to,
      kind: word,
      bindings: children(bindings)
        .filter((child) => child.name === 'InExpression')
        .map((child) => this.binding(child)),
      body: this.expression(body),
    };
  }

  private binding(node: Part): Binding {
    const [name, , context] = children(node);
    if (name === undefined || context === undefined) return this.refuse(node, 'Something is missing here.');
    const parts = children(context);
    const low = this.part(parts, 0, context);
    const over: Syntax =
      parts.length > 1
        ? {
            from: context.from,
            to: context.to,
            kind: 'range',
            low: this.expression(low),
            high: this.expression(this.part(parts, 2, context)),
            lowIncluded: true,
            highIncluded: true,
          }
        : this.expression(low);
    return { name: this.nameOf(name), at: { from: name.from, to: name.to }, over };
  }

  private entry(node: Part): { readonly name: string; readonly value: Syntax } {
    const [name, ...rest] = children(node).filter((child) => child.name !== ':');
    const value = rest.at(-1);
    if (name === undefined || value === undefined) return this.refuse(node, 'Something is missing here.');
    const text = name.parts[0]?.name === 'StringLiteral' ? this.string(name.parts[0]) : this.slice(name);
    return { name: key(text), value: this.expression(value) };
  }
}
