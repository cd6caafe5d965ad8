/** Which records an expression is computed from, besides the one that it is about. */
import type { TableId } from '../design/design.js';
import type { Node } from './node.js';
import { throughFormulas } from './rename.js';

/** The tables that an expression comes to over references, children and links of people to records; also through formulas. */
export function tablesRead(node: Node): ReadonlySet<TableId> {
  const tables = new Set<TableId>();
  for (const one of throughFormulas(node))
    switch (one.kind) {
      case 'parent':
        tables.add(one.table);
        break;
      case 'children':
        tables.add(one.relationship.child);
        break;
      case 'tied':
        tables.add(one.tie.table);
        break;
      default:
    }
  return tables;
}
