import { contract, relationshipOf, tableOf, type OpenRecord, type Table } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Note } from '../../ui/Note.js';

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
  const { id, rev } = newer.record;
  const { data } = useQuery({
    queryKey: keys.history(app.id, table.id, id),
    queryFn: () => call(contract.readHistory, { params: { app: app.id, table: table.id, id } }),
  });
  // Each save of a record raises its revision by one and is one entry; the latest come first.
  const entries = data?.entries.slice(0, rev - open.record.rev) ?? [];
  const people = [...new Set(entries.map(({ person }) => person ?? 'Someone'))];
  const changed = new Set(entries.flatMap(({ changes }) => changes.map(({ field }) => field)));
  const fields = table.fields.filter((field) => changed.has(field.id)).map(({ name }) => name);
  const rows = newer.children
    .filter((block) => revisionsIn(block) !== revisionsIn(open.children.find((each) => each.relationship === block.relationship)))
    .map((block) => tableOf(app.design, relationshipOf(app.design, block.relationship).child).name);
  const what = [...fields, ...rows.map((name) => `rows of ${name}`)];
  if (what.length === 0) return null;
  return (
    <Note kind="look">
      {people.length === 0 ? 'Someone' : listed.format(people)} changed {listed.format(what)} while you were typing. When you save, you choose where you both
      changed the same value.
    </Note>
  );
}

const revisionsIn = (block: OpenRecord['children'][number] | undefined): string =>
  JSON.stringify(block?.records.map((record) => [record.id, record.rev]) ?? []);
