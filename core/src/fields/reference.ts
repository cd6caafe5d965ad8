import { z } from 'zod';
import { wants } from '../feel/wants.js';
import { Id } from '../shapes/shapes.js';
import { common, type FieldKind } from './kind.js';
import { bad, good, isReference, written } from './value.js';

const shape = z.object({ kind: z.literal('reference'), ...common, relationship: Id, default: z.null().default(null) });

/** A record of another table. What it is called is computed from that table, where it is read. */
export const reference = {
  word: 'Reference',
  description: 'a record of another table',
  named: null,
  shape,
  traits: {
    align: 'left',
    formWidth: 6,
    listWidth: 190,
    rowWidth: 180,
    canBeUnique: true,
    canBeIndexed: false,
    searched: false,
    listed: true,
    caption: false,
    addsUp: false,
    words: true,
  },
  digits: () => null,
  value: {
    // A reference is picked, or matched by caption on import, where the other table's records are at hand.
    parse: (typed) => (typed.trim() === '' ? good(null) : bad('It must be picked from the records')),
    print: (value) => (isReference(value) ? value.caption : value === null ? '' : String(value)),
    typed: (value) => (isReference(value) ? value : null),
    problem: (value) => (typeof value === 'number' && Number.isSafeInteger(value) && value > 0 ? null : 'must be one of the records'),
    normal: written,
    same: (a, b) => written(a) === written(b),
    exported: (value) => value,
  },
  feel: {
    type: () => null,
    from: (value, _, parent) => ({ kind: 'record', table: parent, id: written(value) as number }),
    to: () => null,
    literal: String,
    wanted: wants.text,
  },
  column: {
    type: () => 'bigint',
    constant: () => 'NULL',
    rules: () => [],
    sortKey: (column) => column,
    sortType: 'text',
    sent: (column) => column,
    asText: (column) => `${column}::text`,
    fromText: () => 'NULL::bigint',
    takesEveryText: false,
    conversions: (_, __, after) => (after.kind === 'reference' ? null : 'through text'),
  },
  cells: {
    reader: (_, __, captions) => (text) => {
      const id = captions?.get(text.trim().toLowerCase());
      if (id === undefined) return { problem: 'is the name of no record' };
      return id === null ? { problem: 'is the name of more than one record' } : String(id);
    },
    key: (printed) => printed,
    value: Number,
    reading: null,
    settingsFor: null,
  },
  sample: { settings: [{ relationship: 'r_sample' }], values: (fc) => fc.integer({ min: 1 }) },
} as const satisfies FieldKind<z.infer<typeof shape>>;
