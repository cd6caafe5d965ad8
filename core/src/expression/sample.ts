/** The honey co-operative as the tests of expressions need it: apiaries with hives with visits. */
import type { DesignChange } from '../parts/design-change.js';
import { designOf, field, related, table } from '../parts/sample.js';
import { check } from './check.js';
import type { Node } from './node.js';
import type { Scope } from './scope.js';
import { wants } from '../feel/wants.js';

export const changes: readonly DesignChange[] = [
  table('apiaries', 'Apiaries', [
    field({ kind: 'text', id: 'a_name', name: 'Name' }),
    field({
      kind: 'choice',
      id: 'a_region',
      name: 'Region',
      choices: [
        { id: 'moor', label: 'Moor' },
        { id: 'coast', label: 'Coast' },
      ],
    }),
  ]),
  table('hives', 'Hives', [
    field({ kind: 'text', id: 'h_code', name: 'Code' }),
    field({ kind: 'whole', id: 'h_queen', name: 'Queen year' }),
    field({ kind: 'decimal', id: 'h_price', name: 'Unit price' }),
    field({ kind: 'decimal', id: 'h_brood', name: 'Brood, %' }),
    field({ kind: 'date', id: 'h_since', name: 'Stands since' }),
    field({ kind: 'yes_no', id: 'h_gentle', name: 'Gentle' }),
  ]),
  related('apiaries', 'hives', 'Apiary', 'Hives'),
  table('visits', 'Visits', [field({ kind: 'date', id: 'v_date', name: 'Date' }), field({ kind: 'whole', id: 'v_mites', name: 'Mites' })]),
  related('hives', 'visits', 'Hive', 'Visits'),
];

export const design = designOf(changes);
export const scope: Scope = { design, table: 'hives' };

/** @throws Error with the first problem */
export function nodeOf(text: string): Node {
  const checked = check(text, scope, wants.anything);
  if (!checked.ok) throw new Error(checked.problems[0]?.message);
  return checked.node;
}
