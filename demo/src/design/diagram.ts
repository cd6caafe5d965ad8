import type { DesignChange } from '@bibliona/core';

/** How the plan of the app looks to those who build it. */
export const diagram: readonly DesignChange[] = [
  { kind: 'put', part: 'section', value: { id: 'sc_people', name: 'People and places', tone: 'teal' } },
  { kind: 'put', part: 'section', value: { id: 'sc_hives', name: 'Hive work', tone: 'gold' } },
  { kind: 'put', part: 'section', value: { id: 'sc_honey', name: 'Honey', tone: 'olive' } },
  { kind: 'put', part: 'section', value: { id: 'sc_selling', name: 'Selling', tone: 'blue' } },
  { kind: 'put', part: 'note', value: { id: 'n_lots', text: 'A lot is filled in September from the harvests of several apiaries.', tone: 'gold' } },
];
