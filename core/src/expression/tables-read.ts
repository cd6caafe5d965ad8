/** Which records an expression is computed from, besides the one that it is about. */
import type { TableId } from '../design/design.js';
import type { Node } from './node.js';
import { throughFormulas } from './rename.js';

/** The tables that an expression comes to over references, children and links of people to records; also through formulas. */
export function tablesRead(node: Node): ReadonlySet<TableId> {
  const tables = new Set<TableId>();
  for (const each of throughFormulas(node))
    switch (each.kind) {
      case 'parent':
        tables.add(each.table);
        break;
      case 'children':
        tables.add(each.relationship.child);
        break;
      case 'tied':
        tables.add(each.tie.table);
        break;
      default:
    }
  return tables;
}
