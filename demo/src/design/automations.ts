/** What happens by itself at the co-operative. */
import type { Automation, DesignChange } from '@bibliona/core';

const put = (automation: Pick<Automation, 'id' | 'name' | 'description' | 'table' | 'on' | 'steps'> & Partial<Automation>): DesignChange => ({
  kind: 'put',
  part: 'automation',
  value: { section: '', isOn: true, fields: [], moves: [], condition: '', ...automation },
});

export const automations: readonly DesignChange[] = [
  put({
    id: 'lot_is_released',
    name: 'A lot is released',
    description: 'Notes the day, and tells those who sell it.',
    table: 'lots',
    on: 'moved',
    moves: ['lot_release'],
    steps: [
      { kind: 'change', id: 'released_note', values: [{ field: 'lot_released', itself: false, expression: 'today()' }] },
      {
        kind: 'mail',
        id: 'released_mail',
        to: { kind: 'role', role: 'coordinator' },
        subject: 'Lot {Lot} is released',
        body: 'The laboratory has released lot {Lot}: {Kilograms} kg of {Honey}, filled on {Filled}.\n\nIt can be labelled and sold from today.\n\n{me.Name}',
      },
    ],
  }),
  put({
    id: 'test_has_failed',
    name: 'A test has failed',
    description: 'Whoever holds the lot learns of it at once.',
    table: 'lab_results',
    on: 'added',
    condition: 'Passed = false',
    steps: [
      {
        kind: 'mail',
        id: 'failed_mail',
        to: { kind: 'role', role: 'coordinator' },
        subject: 'Lot {Lot} did not pass {Test}',
        body: '{Test} of lot {Lot} came out at {Value}.\n\nThe laboratory says: {Note}',
      },
    ],
  }),
  put({
    id: 'swarm_is_seen',
    name: 'A swarm is seen',
    description: 'Somebody has to go there the same day.',
    table: 'swarms',
    on: 'added',
    steps: [
      {
        kind: 'mail',
        id: 'swarm_mail',
        to: { kind: 'role', role: 'coordinator' },
        subject: 'A swarm: {Place}',
        body: 'Seen on {Seen on}, {How high}.\n{Notes}\n\nReported by {Reported by}, {Phone}',
      },
    ],
  }),
  put({
    id: 'visit_asked',
    name: 'Ask for a visit',
    description: 'Whoever sees the hive can ask the coordinators to send someone.',
    table: 'hives',
    on: 'started',
    steps: [
      {
        kind: 'change',
        id: 'visit_note',
        values: [
          { field: 'hive_notes', itself: false, expression: '(if Notes = null then "" else Notes + "\\n") + "Visit asked for on " + string(today()) + "."' },
        ],
      },
      {
        kind: 'mail',
        id: 'visit_mail',
        to: { kind: 'role', role: 'coordinator' },
        subject: 'Hive {Code} needs a visit',
        body: '{me.Name} asks for a visit to hive {Code} at {Apiary}.',
      },
    ],
  }),
  put({
    id: 'queen_is_new',
    name: 'A hive has a new queen',
    description: 'A first look at her brood stands in the list of visits.',
    table: 'hives',
    on: 'changed',
    fields: ['hive_queen'],
    condition: 'Queen year = today().year',
    steps: [
      {
        kind: 'change',
        id: 'queen_note',
        values: [
          { field: 'hive_notes', itself: false, expression: '(if Notes = null then "" else Notes + "\\n") + "New queen noted on " + string(today()) + "."' },
        ],
      },
    ],
  }),
];
