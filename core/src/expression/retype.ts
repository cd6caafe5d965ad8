import type { Node } from './node.js';
import type { Type } from '../feel/types.js';

const isEmpty = (type: Type): boolean => type.kind === 'null' || ((type.kind === 'list' || type.kind === 'range') && isEmpty(type.of));

/** A tree whose nulls and empty lists are of a type that was only found around it: the database has to know it. */
export function retyped(node: Node, type: Type): Node {
  if (!isEmpty(node.type)) return node;
  // What has the type of null is null, however it is written.
  if (node.type.kind === 'null') return { from: node.from, to: node.to, kind: 'constant', value: null, type };
  switch (node.kind) {
    case 'call':
      return { ...node, args: node.args.map((arg) => (arg.type.kind === 'list' ? retyped(arg, type) : arg)), type };
    case 'for':
      return { ...node, body: type.kind === 'list' ? retyped(node.body, type.of) : node.body, type };
    case 'filter':
    case 'sort':
      return { ...node, of: retyped(node.of, type), type };
    case 'range':
      return type.kind === 'range' ? { ...node, low: retyped(node.low, type.of), high: retyped(node.high, type.of), type } : node;
    default:
      return { ...node, type };
  }
}
