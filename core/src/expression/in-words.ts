/** Reading a checked expression back in plain words, for people who would not read a formula. */
import type { AppDesign } from '../design/design.js';
import type { Locale } from '../values/locale.js';
import { textOf } from '../feel/functions/conversions.js';
import type { Node } from './node.js';
import { isNumber, digitsOf, isList, type Feel } from '../feel/value.js';
import { writeDay } from '../feel/calendar.js';

export function inWords(node: Node, design: AppDesign, locale: Locale): string {
  const say = (part: Node): string => inWords(part, design, locale);
  switch (node.kind) {
    case 'constant':
      return constantWords(node.value, locale);
    case 'self':
      return 'the record';
    case 'me':
      return { Name: 'my name', Mail: 'my mail address', Roles: 'my roles' }[node.entry];
    case 'tied':
      return `my ${node.tie.name}`;
    case 'variable':
      return 'it';
    case 'field':
    case 'parent':
    case 'formula':
      return walked(node.of, node.field.name, say);
    case 'children':
      return walked(node.of, node.relationship.childrenName, say);
    case 'entry':
      return `${node.name} of ${say(node.of)}`;
    case 'within':
    case 'part':
      return `the ${node.part} of ${say(node.of)}`;
    case 'project':
      return `the ${ofElement(node.body)} of ${say(node.of)}`;
    case 'filter':
      return `those of ${say(node.of)} where ${say(node.by)}`;
    case 'index':
      return `number ${say(node.by)} of ${say(node.of)}`;
    case 'sort':
      return `${say(node.of)} by ${say(node.by)}${node.descending ? ', the highest first' : ''}`;
    case 'call':
      return callWords(node, say);
    case 'arithmetic':
      return `${say(node.left)} ${{ '+': 'plus', '-': 'minus', '*': 'times', '/': 'divided by', '**': 'to the power of' }[node.way.op]} ${say(node.right)}`;
    case 'negative':
      return `minus ${say(node.of)}`;
    case 'compare':
      return compareWords(node, say);
    case 'and':
    case 'or':
      return node.of.map((each) => (each.kind === 'and' || each.kind === 'or' ? `(${say(each)})` : say(each))).join(` ${node.kind} `);
    case 'if':
      return `${say(node.then)} if ${say(node.condition)}, else ${say(node.otherwise)}`;
    case 'for':
      return `for each of ${node.bindings.map((binding) => say(binding.over)).join(' and ')}: ${say(node.body)}`;
    case 'some':
    case 'every':
      return `for ${node.kind === 'some' ? 'at least one' : 'every one'} of ${node.bindings.map((binding) => say(binding.over)).join(' and ')} ${say(node.body)}`;
    case 'series':
    case 'range':
      return `${say(node.low)} to ${say(node.high)}`;
    case 'list':
      return node.items.length === 0 ? 'nothing' : node.items.map(say).join(', ');
    case 'context':
      return Object.entries(node.entries)
        .map(([name, each]) => `${name}: ${say(each)}`)
        .join(', ');
    default:
      return node satisfies never;
  }
}

const walked = (of: Node, name: string, say: (node: Node) => string): string =>
  of.kind === 'self' ? name : of.kind === 'variable' ? `its ${name}` : `${name} of ${say(of)}`;
const ofElement = (body: Node): string => ('field' in body ? body.field.name : body.kind === 'children' ? body.relationship.childrenName : 'values');

function constantWords(value: Feel, locale: Locale): string {
  if (value === null) return 'empty';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'string') return `“${value}”`;
  if (isNumber(value)) return locale.number(digitsOf(value));
  if (isList(value)) return 'a list';
  if (value.kind === 'date') return locale.date(writeDay(value));
  if (value.kind === 'years and months duration')
    return lengthWords(value.months, [
      [12, 'year'],
      [1, 'month'],
    ]);
  if (value.kind === 'days and time duration')
    return lengthWords(value.ms, [
      [86_400_000, 'day'],
      [3_600_000, 'hour'],
      [60_000, 'minute'],
      [1000, 'second'],
    ]);
  return textOf(value, { zone: 'UTC' }) ?? '';
}

function lengthWords(size: number, units: readonly (readonly [number, string])[]): string {
  let rest = Math.abs(size);
  const parts = units.flatMap(([unit, word]) => {
    const count = Math.floor(rest / unit);
    rest -= count * unit;
    return count === 0 ? [] : [`${count} ${word}${count === 1 ? '' : 's'}`];
  });
  return parts.length === 0 ? 'no time' : `${size < 0 ? 'minus ' : ''}${parts.join(' ')}`;
}

function compareWords(node: Extract<Node, { kind: 'compare' }>, say: (node: Node) => string): string {
  const { op, left, right } = node;
  if (right.kind === 'constant' && right.value === null) return `${say(left)} is ${op === '=' ? 'empty' : 'filled'}`;
  const timely = ['date', 'time', 'date and time'].includes(left.type.kind);
  const words = {
    '=': 'is',
    '!=': 'is not',
    '<': timely ? 'is before' : 'is less than',
    '<=': timely ? 'is on or before' : 'is at most',
    '>': timely ? 'is after' : 'is more than',
    '>=': timely ? 'is on or after' : 'is at least',
  };
  return `${say(left)} ${words[op]} ${say(right)}`;
}

function callWords(node: Extract<Node, { kind: 'call' }>, say: (node: Node) => string): string {
  const args = node.args.map(say);
  const [a = '', b = ''] = args;
  switch (node.builtIn.name) {
    case 'today':
      return 'today';
    case 'now':
      return 'now';
    case 'not':
      return `not (${a})`;
    case 'contains':
      return `${a} contains ${b}`;
    case 'starts with':
      return `${a} starts with ${b}`;
    case 'ends with':
      return `${a} ends with ${b}`;
    case 'list contains':
      return `${b} is one of ${a}`;
    case 'count':
      return `the number of ${a}`;
    case 'sum':
      return `the sum of ${a}`;
    case 'mean':
      return `the average of ${a}`;
    case 'min':
      return `the smallest of ${a}`;
    case 'max':
      return `the largest of ${a}`;
    case 'record number':
      return `the number of ${a}`;
    case 'created by me':
      return `${a} was created by me`;
    case 'created at':
      return `when ${a} was created`;
    case 'created by':
      return `who created ${a}`;
    case 'changed at':
      return `when ${a} was changed last`;
    case 'changed by':
      return `who changed ${a} last`;
    case 'string':
      return a;
    case 'decimal':
      return `${a} rounded to ${b === '1' ? '1 digit' : `${b} digits`}`;
    default:
      return `${node.builtIn.name} of ${args.join(' and ')}`;
  }
}
