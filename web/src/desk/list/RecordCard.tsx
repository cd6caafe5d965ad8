import { printValue, type Field, type List, type RecordAnswer, type Selection, type Table } from '@bibliona/core';
import type { ReactNode } from 'react';
import { ChosenLine, hasTones } from '../../fields/ChoiceMark.js';
import { useApp } from '../../state/app.js';
import { locale } from '../../state/locale.js';
import { shownIn } from './shown.js';
import { ToRecord } from './ToRecord.js';
import { listedFields, namingFields } from './values.js';

/** What a record is called, as far as its list knows. */
export function calledIn(named: readonly Field[], record: RecordAnswer): string {
  const words = named.map((field) => printValue(field, record.values[field.id] ?? null, locale())).filter((text) => text !== '');
  if (words.length > 0) return words.join(' · ');
  // A row that sums up many records has no number of its own.
  return record.id > 0 ? `No. ${record.id}` : `Row ${-record.id}`;
}

/** A record as a slip: what it is called, and the filled fields of its list. */
export function RecordCard(props: {
  readonly table: Table;
  readonly list: List;
  readonly record: RecordAnswer;
  readonly selection: Selection;
  /** Fields that are shown elsewhere. */
  readonly without?: readonly string[];
  readonly most?: number;
  readonly children?: ReactNode;
}) {
  const { table, list, record, selection, without = [], most = 12, children } = props;
  const app = useApp();
  const named = namingFields(app, table);
  const filled = listedFields(table, list).filter(
    (field) => !named.includes(field) && !without.includes(field.id) && record.values[field.id] != null && record.values[field.id] !== '',
  );
  return (
    <article className="slip">
      {record.tone !== undefined && <i className={`row-spine tone-${record.tone.tone}`} title={record.tone.name} />}
      <ToRecord table={table} record={record.id} selection={selection}>
        {calledIn(named, record)}
      </ToRecord>
      <dl>
        {filled.slice(0, most).map((field) => (
          <div key={field.id}>
            <dt>{field.name}</dt>
            <dd>{hasTones(field) ? <ChosenLine field={field} value={record.values[field.id] ?? null} /> : shownIn(field, record)}</dd>
          </div>
        ))}
      </dl>
      {children}
    </article>
  );
}
