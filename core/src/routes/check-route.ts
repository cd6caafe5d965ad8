/** What is doubtful about a route by itself: dead ends, statuses nobody reaches, moves nobody can make; and how each is fixed. */
import type { AppDesign } from '../design/design.js';
import type { Move, Route, StatusKind } from '../design/route.js';
import { isEnd, startOf, statusesOf, type Status } from './route.js';

export interface RouteFinding {
  readonly kind: 'no_way_out' | 'unreachable' | 'nobody';
  readonly status: Status;
}

export function checkRoute(design: AppDesign, route: Route): readonly RouteFinding[] {
  const statuses = statusesOf(design, route);
  const reached = reachable(route);
  return statuses.flatMap((status): RouteFinding[] => {
    const out = route.moves.filter((move) => move.from === status.id);
    const findings: RouteFinding[] = [];
    if (!reached.has(status.id)) findings.push({ kind: 'unreachable', status });
    if (out.length === 0 && !isEnd(status)) findings.push({ kind: 'no_way_out', status });
    if (out.length > 0 && !isEnd(status) && out.every((move) => move.roles.length === 0)) findings.push({ kind: 'nobody', status });
    return findings;
  });
}

/** The statuses to which moves lead from the start, the start among them. */
export function reachable(route: Route): ReadonlySet<string> {
  const reached = new Set([startOf(route)]);
  // A set goes on over what is added to it meanwhile.
  for (const from of reached) for (const move of route.moves) if (move.from === from) reached.add(move.to);
  return reached;
}

/** A way to settle a finding: its words, and the route as it would be then. */
export interface Fix {
  readonly words: string;
  readonly route: Route;
}

/** The ways to fix a finding, the first the most likely one; `newId` makes the ids of moves. */
export function fixesOf(finding: RouteFinding, design: AppDesign, route: Route, newId: (prefix: string) => string): readonly Fix[] {
  const { status } = finding;
  const statuses = statusesOf(design, route);
  const name = (id: string): string => statuses.find((each) => each.id === id)?.name ?? '';
  const withMove = (from: string, to: string, words: string, roles: readonly string[]): Fix => ({
    words: `Add “${words}”`,
    route: { ...route, moves: [...route.moves, { id: newId('mo'), name: words, from, to, roles, guard: '', duty: 'should' }] },
  });
  switch (finding.kind) {
    case 'no_way_out': {
      // Where records begin they cannot end.
      const next = statuses.find((each) => each.id !== status.id);
      if (status.kind === 'start')
        return next === undefined
          ? []
          : [
              withMove(
                status.id,
                next.id,
                `To ${next.name}`.slice(0, 60),
                design.roles.slice(0, 1).map((role) => role.id),
              ),
            ];
      const into = route.moves.find((move) => move.to === status.id);
      const back = into === undefined ? [] : [withMove(status.id, into.from, `Back to ${name(into.from)}`.slice(0, 60), into.roles)];
      return [...back, { words: 'It can end here', route: withKind(route, status.id, 'done') }];
    }
    case 'unreachable': {
      const start = startOf(route);
      const like = route.moves.find((move) => move.from === start);
      return [withMove(start, status.id, `To ${status.name}`.slice(0, 60), like?.roles ?? [])];
    }
    case 'nobody': {
      const [role] = design.roles;
      const letMove = (move: Move): Move => (move.from === status.id && role !== undefined ? { ...move, roles: [role.id] } : move);
      return role === undefined ? [] : [{ words: `Let ${role.name} move it`, route: { ...route, moves: route.moves.map(letMove) } }];
    }
    default:
      return finding.kind satisfies never;
  }
}

/** The route with a status of that kind. There is one start: whatever was it before is work then. */
export function withKind(route: Route, choice: string, kind: StatusKind): Route {
  const others = route.statuses
    .filter((status) => status.choice !== choice)
    .map((status) => (kind === 'start' && status.kind === 'start' ? { ...status, kind: 'work' as const } : status));
  return { ...route, statuses: [...others, { choice, kind }] };
}
