/** Functions of a record itself, whatever its fields are. The record they are asked in is meant where none is named. */
import { types } from '../types.js';
import { scalar } from '../sql-value.js';
import { storedWhole } from '../stored.js';
import { Decimal, isRecord } from '../value.js';
import { accepts, always, inGroup, optional, type BuiltIn } from './function.js';

const record = inGroup('Records');

/** When a record was written, or by whom. */
const written = (name: string, how: 'created' | 'changed', what: 'at' | 'by'): BuiltIn => {
  const column = `${how === 'created' ? 'created' : 'updated'}_${what}`;
  const type = what === 'at' ? types.moment : types.string;
  return record(
    name,
    [optional('record', accepts.record)],
    `${what === 'at' ? 'When' : 'The name of the person by whom'} the record was ${how}${how === 'changed' ? ' last' : ''}. Without a name it is the record itself.`,
    [[`${name}(null)`, 'null']],
    {
      ofSelf: true,
      gives: always(type),
      evaluate: ([of = null], given) => {
        const made = isRecord(of) ? (given.made?.(of) ?? null) : null;
        if (made === null) return null;
        if (what === 'by') return how === 'created' ? made.createdBy : made.changedBy;
        return { kind: 'date and time', ms: how === 'created' ? made.createdAt : made.changedAt };
      },
      sql: ([of]) => {
        if (of?.kind !== 'record') return scalar(what === 'at' ? 'NULL::timestamptz' : 'NULL::text');
        const value = `${of.alias}.${column}`;
        // The language counts moments in milliseconds.
        return scalar(
          what === 'at' ? `date_trunc('milliseconds', ${value})` : `(SELECT writer.name FROM bibliona.person AS writer WHERE writer.id = ${value})`,
        );
      },
    },
  );
};

export const recordFunctions: readonly BuiltIn[] = [
  record(
    'record number',
    [optional('record', accepts.record)],
    'The number that the record has in the app; it never changes. Without a name it is that of the record itself.',
    [['record number(null)', 'null']],
    {
      ofSelf: true,
      gives: always(types.number),
      evaluate: ([of = null], given) => {
        if (!isRecord(of)) return null;
        const number = typeof of.id === 'number' ? of.id : (given.numberOf?.(of) ?? null);
        return number === null ? null : new Decimal(number);
      },
      sql: ([of]) => (of?.kind === 'record' ? { kind: 'scalar', sql: `${of.alias}.id`, stored: storedWhole } : scalar('NULL::numeric')),
    },
  ),
  record(
    'created by me',
    [optional('record', accepts.record)],
    'Whether the person who looks created the record. Without a name it is the record itself.',
    [['created by me(null)', 'null']],
    {
      ofSelf: true,
      gives: always(types.boolean),
      evaluate: ([of = null], given) => (isRecord(of) ? (given.isMine?.(of) ?? null) : null),
      // A record that nobody created counts as created by 0, which is no person; a missing record gives null.
      sql: ([of], tools) =>
        scalar(of?.kind === 'record' ? `(COALESCE(${of.alias}.created_by, ${of.alias}.id * 0) = ${tools.param(tools.person, 'bigint')})` : 'NULL::boolean'),
    },
  ),
  written('created at', 'created', 'at'),
  written('created by', 'created', 'by'),
  written('changed at', 'changed', 'at'),
  written('changed by', 'changed', 'by'),
];
