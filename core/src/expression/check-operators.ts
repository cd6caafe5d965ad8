/** Checking what is calculated and compared: whether the two sides go together, and what comes of them. */
import { fieldOf, tableOf } from '../design/read.js';
import { wayOf } from '../feel/arithmetic.js';
import type { Checker } from './checker.js';
import { digitsOfResult, mostDigits } from '../feel/limits.js';
import { nearest } from '../feel/names.js';
import type { Node } from './node.js';
import { currenciesApart } from './unit.js';
import type { ArithmeticOp, At, CompareOp } from '../feel/syntax.js';
import { isOrdered, isScalar, plainKind, types, unite } from '../feel/types.js';

export function checkArithmetic(checker: Checker, at: At, op: ArithmeticOp, left: Node, right: Node): Node {
  if (left.type.kind === 'null' || right.type.kind === 'null') return { from: at.from, to: at.to, kind: 'constant', value: null, type: types.null };
  const way = wayOf(left.type, op, right.type);
  if (way === undefined) {
    const oneText = plainKind(left.type) === 'string' || plainKind(right.type) === 'string';
    const other = plainKind(left.type) === 'string' ? right : left;
    if (op === '+' && oneText && isScalar(other.type))
      return checker.refuse(other, `A text and ${checker.typeInWords(other.type)} are not joined by themselves: make it a text with string( ).`);
    const verb = { '+': 'added', '-': 'subtracted', '*': 'multiplied', '/': 'divided', '**': 'raised to a power' }[op];
    return checker.refuse(at, `${capital(checker.typeInWords(left.type))} and ${checker.typeInWords(right.type)} cannot be ${verb}.`);
  }
  const apart = op === '+' || op === '-' ? currenciesApart([left, right]) : null;
  if (apart !== null) return checker.refuse(at, `${apart} don't add up: convert one of them first, by a rate.`);
  const bound =
    op === '*'
      ? (left.digits ?? 0) + (right.digits ?? 0)
      : op === '/' || op === '**'
        ? digitsOfResult + (op === '/' ? Math.max(left.digits ?? 0, right.digits ?? 0) : 0)
        : Math.max(left.digits ?? 0, right.digits ?? 0) + 1;
  if (way.gives === 'number' && bound > mostDigits)
    checker.refuse(at, 'This could become a number of more than 800 digits. Round parts of it with decimal( ), or use fewer powers.');
  return { from: at.from, to: at.to, kind: 'arithmetic', way, left, right, type: { kind: way.gives }, digits: way.gives === 'number' ? bound : undefined };
}

export function checkCompare(checker: Checker, at: At, op: CompareOp, left: Node, right: Node): Node {
  const both = unite(left.type, right.type);
  if (both === null) {
    const hint = (left.type.kind === 'list') !== (right.type.kind === 'list') ? ' To look into a list, use list contains( ), some or every.' : '';
    return checker.refuse(
      at,
      `${capital(checker.typeInWords(left.type))} is compared with ${checker.typeInWords(right.type)}; they are never the same.${hint}`,
    );
  }
  const apart = currenciesApart([left, right]);
  if (apart !== null) checker.refuse(at, `${apart} can't be compared: convert one of them first, by a rate.`);
  if (op !== '=' && op !== '!=' && !isOrdered(both)) checker.refuse(at, `${capital(checker.typeInWords(both))} has no order: compare it with = or !=.`);
  if (both.kind === 'list' || both.kind === 'context' || both.kind === 'range')
    checker.refuse(at, 'Lists, ranges and groups of values are not compared as a whole.');
  knownChoice(checker, left, right);
  knownChoice(checker, right, left);
  return { from: at.from, to: at.to, kind: 'compare', op, left, right, type: types.boolean };
}

/** A text that a choice is compared with, or that is looked for among several, has to be one of its labels. */
export function knownChoice(checker: Checker, choice: Pick<Node, 'type'>, other: Node): void {
  if (choice.type.kind !== 'choice' || other.kind !== 'constant' || typeof other.value !== 'string') return;
  const { labels, table, field } = choice.type;
  if (labels.includes(other.value)) return;
  const near = nearest(other.value, labels);
  const name = fieldOf(tableOf(checker.scope.design, table), field).name;
  checker.refuse(other, `${name} is never “${other.value}”: it is one of ${labels.join(', ')}.`, near === null ? undefined : JSON.stringify(near));
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
