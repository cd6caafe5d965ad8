import { isStored, kindOf, relationshipOf, tableOf, type OpenRecord, type Table } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useApp } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { historyQuery } from './record-history.js';

// The interface is in English, whatever region numbers and dates are written for.
const listed = new Intl.ListFormat('en-GB');

interface ChangedMeanwhileProps {
  readonly table: Table;
  /** The record as the form began with it. */
  readonly open: OpenRecord;
  /** The record as it is now. */
  readonly newer: OpenRecord;
}

/** Over a form with unsaved changes: who has saved what of its record since it was opened. */
export function ChangedMeanwhile({ table, open, newer }: ChangedMeanwhileProps) {
  const app = useApp();
  const { id, values } = newer.record;
  const { data, isFetching } = useQuery(historyQuery(app.id, table.id, id));
  // Formulas change by themselves with what they are computed from.
  const fields = table.fields.filter((field) => isStored(field) && !kindOf(field).value.same(values[field.id] ?? null, open.record.values[field.id] ?? null));
  const people = new Set(fields.map((field) => data?.entries.find((entry) => entry.changes.some((change) => change.field === field.id))?.person ?? 'Someone'));
  const rows = newer.children
    .filter((block) => revisionsIn(block) !== revisionsIn(open.children.find((each) => each.relationship === block.relationship)))
    .map((block) => tableOf(app.design, relationshipOf(app.design, block.relationship).child).name);
  const what = [...fields.map(({ name }) => name), ...rows.map((name) => `rows of ${name}`)];
  // An older history would name who changed it before.
  if (what.length === 0 || isFetching) return null;
  return (
    <Note kind="look">
      {people.size === 0 ? 'Someone' : listed.format(people)} changed {listed.format(what)} while you were typing. When you save, you choose where you both
      changed the same value.
    </Note>
  );
}

const revisionsIn = (block: OpenRecord['children'][number] | undefined): string =>
  JSON.stringify(block?.records.map((record) => [record.id, record.rev]) ?? []);
