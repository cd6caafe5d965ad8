/** Visits with their frames, for tests. */
import { applyChanges, emptyDesign, type OpenRecord } from '@bibliona/core';
import { draftOfRecord } from './draft.js';

const plan = { description: '', required: false, unique: false, default: null } as const;
const made = applyChanges(emptyDesign('Honey'), [
  {
    kind: 'add_table',
    id: 'visits',
    name: 'Visits',
    description: '',
    section: '',
    form: 'fm_v',
    list: 'l_v',
    fields: [
      { ...plan, kind: 'date', id: 'f_date', name: 'Date', required: true },
      { ...plan, kind: 'decimal', digits: 1, id: 'f_warmth', name: 'Warmth' },
    ],
  },
  {
    kind: 'add_table',
    id: 'frames',
    name: 'Frames',
    description: '',
    section: '',
    form: 'fm_f',
    list: 'l_f',
    fields: [
      { ...plan, kind: 'whole', id: 'f_place', name: 'Place', required: true },
      { ...plan, kind: 'whole', id: 'f_brood', name: 'Brood', default: '0' },
    ],
  },
  {
    kind: 'add_relationship',
    id: 'r_f',
    parent: 'visits',
    child: 'frames',
    fieldId: 'f_visit',
    fieldName: 'Visit',
    childrenName: 'Frames',
    required: true,
    whenParentRemoved: 'remove',
  },
]);
if (!made.ok) throw new Error('the sample design is broken');
export const { design } = made;
const open: OpenRecord = {
  caption: 'Visit',
  record: { id: 7, rev: 3, values: { f_date: '2026-09-01', f_warmth: '18.5' } },
  children: [
    {
      relationship: 'r_f',
      more: false,
      records: [
        { id: 1, rev: 1, values: { f_place: 1, f_brood: 50, f_visit: { id: 7, caption: 'Visit' } } },
        { id: 2, rev: 4, values: { f_place: 2, f_brood: null, f_visit: { id: 7, caption: 'Visit' } } },
      ],
    },
  ],
};
/** The form of one of them, as it is opened. */
export const start = draftOfRecord(design, 'visits', open);
