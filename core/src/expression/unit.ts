/** What the numbers that an expression gives count: the currency of a price goes on into a total of prices. */
import { kindOf } from '../fields/kinds.js';
import type { Unit } from '../values/units.js';
import type { Node } from './node.js';

/** Functions whose result counts what all their arguments count. */
const ofAll: ReadonlySet<string> = new Set(['sum', 'mean', 'median', 'min', 'max']);
/** Functions whose result counts what their first argument counts. */
const ofFirst: ReadonlySet<string> = new Set(['abs', 'decimal', 'round up', 'round down', 'round half up', 'round half down', 'floor', 'ceiling']);

/** Null: a plain number, or none. */
export function unitOf(node: Node): Unit | null {
  switch (node.kind) {
    case 'field':
      return kindOf(node.field).unit?.(node.field) ?? null;
    case 'formula':
      return kindOf(node.field).unit?.(node.field) ?? unitOf(node.body);
    case 'negative':
    case 'filter':
    case 'index':
    case 'sort':
      return unitOf(node.of);
    case 'project':
    case 'for':
      return unitOf(node.body);
    case 'if':
      return common([node.then, node.otherwise]);
    case 'list':
      return common(node.items);
    case 'call':
      return ofAll.has(node.builtIn.name) ? common(node.args) : ofFirst.has(node.builtIn.name) ? common(node.args.slice(0, 1)) : null;
    case 'arithmetic':
      return ofArithmetic(node.way.op, unitOf(node.left), unitOf(node.right));
    default:
      return null;
  }
}

/** What all of them count; what is written in the expression itself counts whatever the others do. */
function common(nodes: readonly Node[]): Unit | null {
  const units = nodes.filter((node) => node.kind !== 'constant').map(unitOf);
  return units.every((unit) => unit === units[0]) ? (units[0] ?? null) : null;
}

function ofArithmetic(op: string, left: Unit | null, right: Unit | null): Unit | null {
  // A share of an amount is an amount; a share of a plain number is a number.
  const [one, other] = [left === '%' ? null : left, right === '%' ? null : right];
  switch (op) {
    case '+':
    case '-':
      return left === '%' && right === '%' ? '%' : one !== null && other !== null && one !== other ? null : (one ?? other);
    case '*':
      return one !== null && other !== null ? null : (one ?? other);
    case '/':
      return other === null ? one : null;
    default:
      return null;
  }
}

/** Two currencies among values that are put together, as a sentence begins with them; null: they go together. */
export function currenciesApart(nodes: readonly Node[]): string | null {
  const [one, other] = new Set(nodes.map(unitOf).filter((unit) => unit !== null && unit !== '%'));
  return other === undefined ? null : `${one} and ${other}`;
}
