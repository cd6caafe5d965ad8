import { ArrowRightIcon } from '@phosphor-icons/react';
import { hasOwnNumber, kindOf, printValue, type Field, type RecordAnswer, type Table } from '@bibliona/core';
import { Link } from 'react-router';
import { locale } from '../state/locale.js';

/** What a record is called where only its fields are at hand: the first one that is shown and filled, else its number. */
function nameOf(record: RecordAnswer, fields: readonly Field[]): string {
  for (const field of fields) {
    const text = printValue(field, record.values[field.id] ?? null, locale());
    if (text !== '') return kindOf(field).traits.caption || field.kind === 'reference' ? text : `${field.name} ${text}`;
  }
  return `record ${record.id}`;
}

/** The link at the beginning of a row: its number, or an arrow where the table has a number or name of its own. */
export function OpenRecord(props: {
  readonly table: Table;
  readonly record: RecordAnswer;
  readonly fields: readonly Field[];
  readonly to: string;
  readonly tabIndex?: number;
}) {
  const { table, record, fields, to, tabIndex = 0 } = props;
  return (
    <Link className="lk" to={to} tabIndex={tabIndex} aria-label={`Open ${nameOf(record, fields)}`}>
      {hasOwnNumber(table) ? <ArrowRightIcon size={14} /> : record.id}
    </Link>
  );
}
