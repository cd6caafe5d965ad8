import type { Route, Status } from '@bibliona/core';
import { layOutGraph, type ElkNode } from '../../ui/elk.js';

export const [stopWidth, stopHeight] = [128, 56] as const;
// About, in the type of the labels: the words of a move need so much room beside its line.
const [letterWidth, labelHeight] = [6.6, 36] as const;

interface Point {
  readonly x: number;
  readonly y: number;
}
export interface RouteLayout {
  readonly stops: ReadonlyMap<string, Point>;
  /** The corners of each move's line, and where its words stand. */
  readonly moves: ReadonlyMap<string, { readonly points: readonly Point[]; readonly words: Point }>;
  readonly width: number;
  readonly height: number;
}

const wordsWidth = (words: string): number => Math.max(40, Math.min(words.length, 26) * letterWidth + 4);

/** Places for the statuses from left to right, and ways for the moves around them. */
export async function layOutRoute(
  route: Pick<Route, 'moves'>,
  statuses: readonly Status[],
  who: (move: Route['moves'][number]) => string,
): Promise<RouteLayout> {
  const graph: ElkNode = await layOutGraph({
    id: 'route',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'RIGHT',
      'elk.edgeRouting': 'ORTHOGONAL',
      'elk.spacing.nodeNode': '36',
      'elk.layered.spacing.nodeNodeBetweenLayers': '18',
      'elk.spacing.edgeNode': '24',
      'elk.spacing.edgeEdge': '16',
      'elk.layered.spacing.edgeEdgeBetweenLayers': '8',
      'elk.layered.spacing.edgeNodeBetweenLayers': '10',
      'elk.spacing.edgeLabel': '4',
      'elk.layered.considerModelOrder.strategy': 'NODES_AND_EDGES',
      'elk.layered.nodePlacement.strategy': 'BRANDES_KOEPF',
    },
    children: statuses.map(({ id }) => ({ id, width: stopWidth, height: stopHeight })),
    edges: route.moves.map((move) => ({
      id: move.id,
      sources: [move.from],
      targets: [move.to],
      labels: [{ id: `${move.id} words`, text: move.name, width: Math.max(wordsWidth(move.name), wordsWidth(who(move))), height: labelHeight }],
    })),
  });
  const moves = new Map<string, { readonly points: readonly Point[]; readonly words: Point }>();
  for (const edge of graph.edges ?? []) {
    const section = edge.sections?.[0];
    const label = edge.labels?.[0];
    if (section === undefined) continue;
    const points = [section.startPoint, ...(section.bendPoints ?? []), section.endPoint];
    moves.set(edge.id, { points, words: { x: (label?.x ?? 0) + (label?.width ?? 0) / 2, y: (label?.y ?? 0) + (label?.height ?? 0) / 2 } });
  }
  return {
    stops: new Map((graph.children ?? []).map((node) => [node.id, { x: node.x ?? 0, y: node.y ?? 0 }])),
    moves,
    width: graph.width ?? 0,
    height: graph.height ?? 0,
  };
}
