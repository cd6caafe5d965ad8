/** What is asked across tables. */
import type { DesignChange } from '@bibliona/core';
import { column } from './parts.js';

export const questions: readonly DesignChange[] = [
  {
    kind: 'put',
    part: 'query',
    value: {
      id: 'mite_heavy',
      name: 'Mite-heavy apiaries',
      description: 'Where the counts of the last two years ran high.',
      section: 'Hive health',
      table: 'inspections',
      condition: 'Date >= today() - duration("P2Y") and Mites per 100 > 2',
      columns: [
        column('mh_apiary', 'Apiary', 'Hive.Apiary'),
        column('mh_keeper', 'Keeper', 'Hive.Apiary.Keeper'),
        column('mh_count', 'Number of inspections', '', 'count'),
        column('mh_average', 'Average mites', 'Mites per 100', 'average', 1),
        column('mh_latest', 'Latest', 'Date', 'largest'),
      ],
      order: [{ column: 'mh_average', direction: 'down' }],
      limit: null,
    },
  },
  {
    kind: 'put',
    part: 'query',
    value: {
      id: 'unseen_hives',
      name: 'Hives not seen lately',
      description: 'Nobody has opened them for sixty days.',
      section: 'Hive health',
      table: 'hives',
      condition: 'Last seen < today() - duration("P60D")',
      columns: [
        column('uh_code', 'Hive', 'Code'),
        column('uh_apiary', 'Apiary', 'Apiary'),
        column('uh_keeper', 'Keeper', 'Apiary.Keeper.Name'),
        column('uh_seen', 'Last seen', 'Last seen'),
      ],
      order: [{ column: 'uh_seen', direction: 'up' }],
      limit: null,
    },
  },
];
