/** The way of a lot from the filling to the shops. */
import type { DesignChange, Move } from '@bibliona/core';

const move = (id: string, name: string, from: string, to: string, roles: readonly string[], guard = ''): Move => ({
  id,
  name,
  from,
  to,
  roles,
  guard,
  duty: 'should',
});

export const routes: readonly DesignChange[] = [
  {
    kind: 'put',
    part: 'route',
    value: {
      id: 'route_of_a_lot',
      name: 'Route of a lot',
      description: 'No honey is sold that the laboratory has not released.',
      section: '',
      table: 'lots',
      field: 'lot_status',
      statuses: [
        { choice: 'draft', kind: 'start' },
        { choice: 'in_lab', kind: 'work' },
        { choice: 'released', kind: 'done' },
        { choice: 'on_hold', kind: 'wait' },
        { choice: 'more_info', kind: 'wait' },
        { choice: 'rejected', kind: 'ended' },
      ],
      moves: [
        move('lot_send', 'Send to lab', 'draft', 'in_lab', ['keeper', 'coordinator'], 'count(Harvests) > 0'),
        move('lot_release', 'Release', 'in_lab', 'released', ['lab'], 'count(Lab results) >= 3 and count(Lab results[Passed = false]) = 0'),
        move('lot_hold', 'Hold', 'in_lab', 'on_hold', ['lab', 'coordinator']),
        move('lot_back', 'Back to lab', 'on_hold', 'in_lab', ['lab', 'coordinator']),
        move('lot_ask', 'Ask for more', 'in_lab', 'more_info', ['lab']),
        move('lot_answer', 'Answer', 'more_info', 'in_lab', ['keeper', 'coordinator']),
        move('lot_reject', 'Reject', 'in_lab', 'rejected', ['lab']),
        move('lot_recall', 'Recall', 'released', 'on_hold', ['coordinator']),
      ],
    },
  },
];
