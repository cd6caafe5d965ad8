/** A new record that begins as another one is. */
import { canRepeat, relationshipOf, routeOf, tableOf, type AppDesign, type Field, type OpenRecord, type Table } from '@bibliona/core';
import { draftOfRecord, type RecordDraft, type TypedValues } from './draft.js';

function repeated(design: AppDesign, table: Table, values: TypedValues, beginning: TypedValues, without: (field: Field) => boolean): TypedValues {
  const status = routeOf(design, table.id)?.field;
  return Object.fromEntries(
    table.fields.map((field) => [
      field.id,
      canRepeat(field) && field.id !== status && !without(field) ? (values[field.id] ?? null) : (beginning[field.id] ?? null),
    ]),
  );
}

export interface Duplicate {
  readonly draft: RecordDraft;
  /** Why not all of it is here; null: it is. */
  readonly note: string | null;
}

/**
 * @param shown the relationships whose rows the form shows
 * @param beginningOf what a new record of a table begins with
 * @param isClosed fields that are not this person's to write
 */
export function duplicateOf(
  design: AppDesign,
  table: Table,
  open: OpenRecord,
  shown: readonly string[],
  beginningOf: (table: Table) => TypedValues,
  isClosed: (field: Field) => boolean,
): Duplicate {
  const from = draftOfRecord(design, table.id, open);
  let isCut = false;
  const left: string[] = [];
  const children = Object.fromEntries(
    shown.map((id) => {
      const { child, field: link, childrenName } = relationshipOf(design, id);
      const of = tableOf(design, child);
      // Rows that each need a value of their own would have to be filled one by one before anything can be saved.
      if (of.fields.some((field) => field.required && field.unique && field.id !== link)) {
        if ((from.children[id] ?? []).length > 0) left.push(childrenName);
        return [id, []];
      }
      const beginning = beginningOf(of);
      const rows = from.children[id] ?? [];
      isCut ||= rows.some((row) => row.cut !== undefined) || open.children.some((block) => block.relationship === id && block.more);
      return [
        id,
        rows.map((row) => ({
          key: crypto.randomUUID(),
          id: null,
          rev: 0,
          // Of a text that is shown in part the rest would be lost.
          values: { ...repeated(design, of, row.values, beginning, (field) => isClosed(field) || row.cut?.includes(field.id) === true), [link]: null },
        })),
      ];
    }),
  );
  const notes = [
    ...(left.length > 0 ? [`Rows of ${left.join(' and ')} are not copied, as each has a value of its own.`] : []),
    ...(isCut ? ['Very long texts in rows, and rows beyond those that are shown, are not copied.'] : []),
  ];
  return { draft: { own: repeated(design, table, from.own, beginningOf(table), isClosed), children }, note: notes.length === 0 ? null : notes.join(' ') };
}
