import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyChanges } from '../parts/change.js';
import type { AppDesign } from '../design/design.js';
import { emptyDesign } from '../parts/parse.js';
import { Route } from '../design/route.js';
import { checkRoute, fixesOf, reachable, withKind } from './check-route.js';
import { mayMove, startOf, statusesOf } from './route.js';

const choices = ['draft', 'lab', 'hold', 'out'].map((id) => ({ id, label: id.toUpperCase() }));
const made = applyChanges(emptyDesign('Honey'), [
  {
    kind: 'add_table',
    id: 'lots',
    name: 'Lots',
    description: '',
    section: '',
    form: 'fm_l',
    list: 'l_l',
    fields: [{ kind: 'choice', id: 'l_status', name: 'Status', description: '', required: false, unique: false, default: null, choices }],
  },
]);
if (!made.ok) throw new Error('No design');
const design: AppDesign = made.design;
let count = 0;
const newId = (prefix: string): string => `${prefix}_${(count += 1)}`;
const move = (from: string, to: string, roles = ['team']) => ({
  id: newId('mo'),
  name: `${from} to ${to}`,
  from,
  to,
  roles,
  guard: '',
  duty: 'should' as const,
});
const routeWith = (moves: readonly object[], kinds: Readonly<Record<string, string>> = { draft: 'start', out: 'done' }): Route =>
  Route.parse({ id: 'way', name: 'Way', table: 'lots', field: 'l_status', statuses: Object.entries(kinds).map(([choice, kind]) => ({ choice, kind })), moves });
const says = (route: Route): string[] => checkRoute(design, route).map((routeFinding) => `${routeFinding.status.id} ${routeFinding.kind}`);
const whole = [move('draft', 'lab'), move('lab', 'hold'), move('hold', 'lab'), move('lab', 'out')];

describe('a route', () => {
  test('that is whole has nothing to be found', () => {
    expect(says(routeWith(whole))).toEqual([]);
    expect(statusesOf(design, routeWith(whole)).map((status) => status.kind)).toEqual(['start', 'work', 'work', 'done']);
  });
  test('is found where records stay, where none comes and where nobody acts', () => {
    expect(says(routeWith(whole.filter((each) => each.from !== 'hold')))).toEqual(['hold no_way_out']);
    expect(says(routeWith(whole.filter((each) => each.to !== 'hold')))).toEqual(['hold unreachable']);
    expect(says(routeWith(whole.map((each) => (each.from === 'draft' ? { ...each, roles: [] } : each))))).toEqual(['draft nobody']);
  });
  test('has one start, no matter what else is made one', () => {
    const route = withKind(routeWith(whole), 'lab', 'start');
    expect(startOf(route)).toBe('lab');
    expect(route.statuses.filter((status) => status.kind === 'start')).toHaveLength(1);
  });
  test('lets those move who have a role of the move, and who builds the app', () => {
    const [first] = routeWith(whole).moves;
    if (first === undefined) throw new Error('No move');
    expect(mayMove(first, { role: 'member', roles: ['team'] })).toBe(true);
    expect(mayMove(first, { role: 'member', roles: ['lab'] })).toBe(false);
    expect(mayMove(first, { role: 'builder', roles: [] })).toBe(true);
    expect(mayMove(first, { role: null, roles: ['team'] })).toBe(false);
  });
});

const ids = choices.map((choice) => choice.id);
const anyMoves = fc.uniqueArray(fc.tuple(fc.constantFrom(...ids), fc.constantFrom(...ids), fc.boolean()), {
  selector: ([from, to]) => `${from} ${to}`,
  maxLength: 10,
});
const anyKinds = fc.tuple(...ids.slice(1).map(() => fc.constantFrom('work', 'wait', 'done', 'ended')));

test('every fix of every finding settles it, and leaves a design that holds', () => {
  fc.assert(
    fc.property(anyMoves, anyKinds, (moves, kinds) => {
      const all = Object.fromEntries([['draft', 'start'], ...ids.slice(1).map((id, i) => [id, kinds[i] ?? 'work'])]) as Record<string, string>;
      const route = routeWith(
        moves.filter(([from, to]) => from !== to).map(([from, to, isOpen]) => move(from, to, isOpen ? ['team'] : [])),
        all,
      );
      for (const finding of checkRoute(design, route)) {
        const fixes = fixesOf(finding, design, route, newId);
        expect(fixes.length).toBeGreaterThan(0);
        for (const fix of fixes) {
          const left = checkRoute(design, fix.route).map((routeFinding) => `${routeFinding.kind} ${routeFinding.status.id}`);
          expect(left).not.toContain(`${finding.kind} ${finding.status.id}`);
          expect(applyChanges(design, [{ kind: 'put', part: 'route', value: fix.route }])).toMatchObject({ ok: true });
        }
      }
    }),
  );
});

test('what is reached is what some way of moves leads to', () => {
  fc.assert(
    fc.property(anyMoves, (moves) => {
      const route = routeWith(moves.filter(([from, to]) => from !== to).map(([from, to]) => move(from, to)));
      const leadsTo = (id: string, steps: number): boolean =>
        id === 'draft' || (steps > 0 && route.moves.some((each) => each.to === id && leadsTo(each.from, steps - 1)));
      expect([...reachable(route)].sort()).toEqual(ids.filter((id) => leadsTo(id, ids.length)).sort());
    }),
  );
});
