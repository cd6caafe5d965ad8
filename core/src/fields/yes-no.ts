import { z } from 'zod';
import { types } from '../feel/types.js';
import { wants } from '../feel/wants.js';
import { asIs, Default, identical, neverUnique, type CellReader, type FieldKind } from './kind.js';
import { bad, good } from './value.js';

const shape = z.object({ kind: z.literal('yes_no'), ...neverUnique, default: Default });

const yes = ['yes', 'y', 'true', '1', 'x'];
const no = ['no', 'n', 'false', '0'];
const quoted = (words: readonly string[]): string => words.map((word) => `'${word}'`).join(', ');

function read(typed: string): boolean | null {
  const word = typed.trim().toLowerCase();
  return yes.includes(word) ? true : no.includes(word) ? false : null;
}

export const yesNo = {
  word: 'Yes/no',
  description: 'a tick: yes, no',
  named: /\?$|^(?:is|has|can|was)\b|\b(?:paid|done|active|approved|available)$/iu,
  shape,
  traits: {
    align: 'left',
    formWidth: 3,
    listWidth: 100,
    rowWidth: 84,
    canBeUnique: false,
    canBeIndexed: true,
    searched: false,
    listed: true,
    caption: false,
    addsUp: false,
    words: false,
  },
  digits: () => null,
  value: {
    parse: (typed) => {
      if (typed.trim() === '') return good(null);
      const answer = read(typed);
      return answer === null ? bad(`"${typed.trim()}" is neither yes nor no`) : good(answer);
    },
    print: (value) => (value === null ? '' : value === true ? 'yes' : 'no'),
    typed: (value) => (value === null ? null : value === true),
    problem: (value) => (typeof value === 'boolean' ? null : 'must be yes or no'),
    normal: asIs,
    same: identical,
    exported: asIs,
  },
  feel: {
    type: () => types.boolean,
    from: (value) => value === true,
    to: (computed) => (typeof computed === 'boolean' ? computed : null),
    literal: String,
    wanted: wants.yesOrNo,
  },
  column: {
    type: () => 'boolean',
    constant: String,
    rules: () => [],
    sortKey: (column) => column,
    sortType: 'boolean',
    sent: (column) => column,
    asText: (column) => `CASE ${column} WHEN true THEN 'yes' WHEN false THEN 'no' END`,
    fromText: (text) => `CASE WHEN lower(trim(${text})) IN (${quoted(yes)}) THEN true WHEN lower(trim(${text})) IN (${quoted(no)}) THEN false END`,
    takesEveryText: false,
    conversions: (_, __, after) => (after.kind === 'yes_no' ? null : 'through text'),
  },
  cells: {
    reader: (): CellReader => (text) => {
      const answer = read(text);
      return answer === null ? { problem: 'is neither yes nor no' } : answer ? 't' : 'f';
    },
    key: (printed) => printed,
    value: (printed) => printed === 't',
    reading: null,
    settingsFor: () => ({}),
  },
  sample: { settings: [{}], values: (fc) => fc.boolean() },
} as const satisfies FieldKind<z.infer<typeof shape>>;
