/** The checked tree: every name is resolved and every part has its type. Both engines read this tree and nothing else. */
import type { Field, Relationship, TableId, Tie } from '../design/design.js';
import type { ArithmeticWay } from '../feel/arithmetic.js';
import type { BuiltIn } from '../feel/functions/function.js';
import type { At, CompareOp } from '../feel/syntax.js';
import type { Type } from '../feel/types.js';
import type { Feel } from '../feel/value.js';

/** A name bound within the expression; the number tells variables of the same name apart. */
export type Variable = number;

export interface BoundList {
  readonly variable: Variable;
  readonly over: Node;
}

type Kinds =
  | { readonly kind: 'constant'; readonly value: Feel }
  /** The record that the expression is about. */
  | { readonly kind: 'self'; readonly table: TableId }
  | { readonly kind: 'me'; readonly entry: 'Name' | 'Mail' | 'Roles' }
  /** The record that the person is tied to. */
  | { readonly kind: 'tied'; readonly tie: Tie }
  | { readonly kind: 'variable'; readonly variable: Variable }
  | { readonly kind: 'field'; readonly of: Node; readonly field: Field; readonly nameAt: At }
  | { readonly kind: 'parent'; readonly of: Node; readonly field: Field; readonly table: TableId; readonly nameAt: At }
  | { readonly kind: 'children'; readonly of: Node; readonly relationship: Relationship; readonly nameAt: At }
  | { readonly kind: 'formula'; readonly of: Node; readonly field: Field; readonly body: Node; readonly nameAt: At }
  | { readonly kind: 'entry'; readonly of: Node; readonly name: string }
  /** The city of an address: what is in a stored value, which expressions else see as one text. */
  | { readonly kind: 'within'; readonly of: FieldNode; readonly part: string }
  /** The year of a date, the hours of a length of time, … */
  | { readonly kind: 'part'; readonly of: Node; readonly part: string }
  | { readonly kind: 'project'; readonly of: Node; readonly variable: Variable; readonly body: Node }
  | { readonly kind: 'filter'; readonly of: Node; readonly variable: Variable; readonly by: Node }
  | { readonly kind: 'index'; readonly of: Node; readonly by: Node }
  | { readonly kind: 'sort'; readonly of: Node; readonly variable: Variable; readonly by: Node; readonly descending: boolean }
  | { readonly kind: 'call'; readonly builtIn: BuiltIn; readonly args: readonly Node[] }
  | { readonly kind: 'arithmetic'; readonly way: ArithmeticWay; readonly left: Node; readonly right: Node }
  | { readonly kind: 'negative'; readonly of: Node }
  | { readonly kind: 'compare'; readonly op: CompareOp; readonly left: Node; readonly right: Node }
  | { readonly kind: 'and' | 'or'; readonly of: readonly Node[] }
  | { readonly kind: 'if'; readonly condition: Node; readonly then: Node; readonly otherwise: Node }
  | { readonly kind: 'for' | 'some' | 'every'; readonly bindings: readonly BoundList[]; readonly body: Node }
  /** Whole numbers from one to another, as `for` goes through them. */
  | { readonly kind: 'series'; readonly low: Node; readonly high: Node }
  | { readonly kind: 'list'; readonly items: readonly Node[] }
  | { readonly kind: 'range'; readonly low: Node; readonly high: Node; readonly lowIncluded: boolean; readonly highIncluded: boolean }
  | { readonly kind: 'context'; readonly entries: Readonly<Record<string, Node>> };

type FieldNode = Extract<Node, { kind: 'field' }>;

export type Node = At &
  Kinds & {
    readonly type: Type;
    /** For numbers: at most so many digits, before and after the point together. */
    readonly digits?: number | undefined;
  };

/** The parts of a node, in the order in which they stand. */
export function partsOf(node: Node): readonly Node[] {
  switch (node.kind) {
    case 'constant':
    case 'self':
    case 'me':
    case 'tied':
    case 'variable':
      return [];
    case 'field':
    case 'parent':
    case 'children':
    case 'formula':
    case 'entry':
    case 'within':
    case 'part':
    case 'negative':
      return [node.of];
    case 'project':
      return [node.of, node.body];
    case 'filter':
    case 'index':
    case 'sort':
      return [node.of, node.by];
    case 'call':
      return node.args;
    case 'arithmetic':
    case 'compare':
      return [node.left, node.right];
    case 'and':
    case 'or':
      return node.of;
    case 'if':
      return [node.condition, node.then, node.otherwise];
    case 'for':
    case 'some':
    case 'every':
      return [...node.bindings.map((binding) => binding.over), node.body];
    case 'series':
    case 'range':
      return [node.low, node.high];
    case 'list':
      return node.items;
    case 'context':
      return Object.values(node.entries);
    default:
      return node satisfies never;
  }
}

/** An element of the list that `list contains` looks through, by its type, and what it looks for; null for any other node. */
export function soughtIn(node: Node): readonly [Pick<Node, 'type'>, Node] | null {
  if (node.kind !== 'call' || node.builtIn.name !== 'list contains') return null;
  const [list, sought] = node.args;
  return list?.type.kind === 'list' && sought !== undefined ? [{ type: list.type.of }, sought] : null;
}
