import type { AppDesign, Field, Table } from '@bibliona/core';

export const cardWidth = 168;
const [headHeight, rowHeight, foot] = [31, 20, 9];
const mostRows = 5;

/** The fields that tell what a table is: what its records are called by, what it refers to, then the first others. */
export function keyFields(table: Table): readonly Field[] {
  const rank = (field: Field): number => (table.caption.includes(field.id) ? 0 : field.kind === 'reference' ? 1 : 2);
  const chosen = [...table.fields].sort((a, b) => rank(a) - rank(b)).slice(0, table.fields.length > mostRows ? mostRows - 1 : mostRows);
  return chosen;
}

export function cardHeight(table: Table): number {
  const rows = Math.min(table.fields.length, mostRows);
  return headHeight + rows * rowHeight + foot;
}

/** Places for the cards: parents left of their children, few crossings. */
export async function layOut(design: AppDesign): Promise<ReadonlyMap<string, { readonly x: number; readonly y: number }>> {
  // A megabyte that only this station needs.
  const { default: Elk } = await import('elkjs/lib/elk.bundled.js');
  const graph = await new Elk().layout({
    id: 'tables',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'RIGHT',
      'elk.spacing.nodeNode': '28',
      'elk.layered.spacing.nodeNodeBetweenLayers': '72',
      'elk.layered.considerModelOrder.strategy': 'NODES_AND_EDGES',
      'elk.separateConnectedComponents': 'true',
      'elk.aspectRatio': '1.7',
    },
    children: design.tables.map((table) => ({ id: table.id, width: cardWidth, height: cardHeight(table) })),
    // A relationship of a table with itself is drawn, but does not place it.
    edges: design.relationships.filter((one) => one.parent !== one.child).map((one) => ({ id: one.id, sources: [one.parent], targets: [one.child] })),
  });
  return new Map((graph.children ?? []).map((node) => [node.id, { x: node.x ?? 0, y: node.y ?? 0 }]));
}
