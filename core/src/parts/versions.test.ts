import { expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import { listFor, tableOf } from '../design/read.js';
import { applyChanges } from './change.js';
import type { DesignChange } from './design-change.js';
import { whole } from './sample.js';
import { versionsOf } from './versions.js';

function after(change: DesignChange): AppDesign {
  const made = applyChanges(whole, [change]);
  if (!made.ok) throw new Error(JSON.stringify(made.issues));
  return made.design;
}
const rows = (theirs: DesignChange, mine: DesignChange): readonly (readonly string[])[] =>
  versionsOf([mine], whole, after(theirs)).map(({ where, before, theirs: one, mine: other }) => [where, before, one, other]);

const code = tableOf(whole, 'hives').fields.find((field) => field.id === 'h_code');
const state = tableOf(whole, 'hives').fields.find((field) => field.id === 'h_state');
const ofField = (field: object): DesignChange => ({ kind: 'change_field', table: 'hives', field }) as DesignChange;
const list = (more: object): DesignChange => ({ kind: 'put', part: 'list', value: { ...listFor(whole, 'hives'), ...more } });
const [automation] = whole.automations;
const steps = (values: readonly object[]): DesignChange =>
  ({ kind: 'put', part: 'automation', value: { ...automation, steps: [{ kind: 'change', id: 'st_year', values }] } }) as DesignChange;

test.each<readonly [string, DesignChange, DesignChange, readonly (readonly string[])[]]>([
  [
    'a setting that both changed, and one that only they did',
    ofField({ ...code, description: 'On the lid', required: true }),
    ofField({ ...code, description: 'On the side' }),
    [
      ['Help text', 'empty', 'On the lid', 'On the side'],
      ['Required', 'no', 'yes', 'no'],
    ],
  ],
  [
    'lists of names, in their order',
    list({ columns: ['h_code', 'h_year'] }),
    list({ columns: ['h_year'], order: [{ field: 'h_year', direction: 'down' }] }),
    [
      ['Columns', 'Code, State, Queen year, Apiary', 'Code, Queen year', 'Queen year'],
      ['Order › Queen year', 'not there', 'not there', 'there'],
    ],
  ],
  [
    'entries that are there in one of them, or in another order',
    ofField({
      ...state,
      choices: [
        { id: 's_a', label: 'A' },
        { id: 's_b', label: 'Bee' },
        { id: 's_c', label: 'C' },
      ],
    }),
    ofField({
      ...state,
      choices: [
        { id: 's_b', label: 'B' },
        { id: 's_a', label: 'A' },
        { id: 's_c', label: 'C' },
        { id: 's_d', label: 'D' },
      ],
    }),
    [
      ['Choices › B › Label', 'B', 'Bee', 'B'],
      ['Choices › D', 'not there', 'not there', 'there'],
    ],
  ],
  [
    'a step of an automation',
    steps([{ field: 'h_year', itself: false, expression: '2027' }]),
    steps([{ field: 'h_year', itself: false, expression: '2028' }]),
    [['Steps › 1 › Values › Queen year › Expression', '2026', '2027', '2028']],
  ],
  [
    'a part that they removed',
    { kind: 'remove', part: 'query', id: 'q_old' },
    { kind: 'put', part: 'query', value: { ...(whole.queries[0] as AppDesign['queries'][number]), description: 'New' } },
    [['All of it', 'Old', 'removed', 'Old']],
  ],
  ['parts that do not meet', list({ condition: 'Queen year > 2000' }), ofField({ ...code, description: 'Mine' }), []],
])('%s', (_, theirs, mine, wanted) => {
  expect(rows(theirs, mine)).toEqual(wanted);
});
