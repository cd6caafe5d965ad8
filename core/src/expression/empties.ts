/** Where an expression summarises values that can be empty: the language then gives nothing as soon as one of them is. */
import type { Field } from '../design/design.js';
import type { Node } from './node.js';
import { everyNode } from './rename.js';

const summing = new Set(['sum', 'mean', 'min', 'max', 'product', 'median', 'stddev']);

export interface MetEmpty {
  /** The function as it is written. */
  readonly summary: string;
  readonly field: Field;
  /** Where its list ends in the text: what leaves the empty values out goes there. */
  readonly at: number;
}

export const leavesOutEmpty = '[item != null]';

/** Each function over children that meets a field which can be empty, and does not leave the empty values out. */
export function emptiesMet(node: Node): readonly MetEmpty[] {
  return [...everyNode(node)].flatMap((each) => {
    if (each.kind !== 'call' || !summing.has(each.builtIn.name)) return [];
    return each.args.flatMap((arg): MetEmpty[] => {
      if (arg.kind !== 'project' || (arg.body.kind !== 'field' && arg.body.kind !== 'formula')) return [];
      const { field } = arg.body;
      return field.required ? [] : [{ summary: each.builtIn.name, field, at: arg.to }];
    });
  });
}

/** The text with every such list without its empty values. */
export const withoutEmpties = (text: string, met: readonly MetEmpty[]): string =>
  [...met].sort((a, b) => b.at - a.at).reduce((all, { at }) => all.slice(0, at) + leavesOutEmpty + all.slice(at), text);
