/** Copies of records that were chosen in a list, with their rows. */
import { contract, formFor, isGiven, type OpenRecord, type RecordAnswer, type Table, type Write } from '@bibliona/core';
import { call } from '../../state/api.js';
import { closedFields, rolesInHand, type AppInHand, type useCircumstances } from '../../state/app.js';
import { loadLanguage } from '../../state/language.js';
import { emptyValues, writesOf } from '../record/draft.js';
import { duplicateOf } from '../record/duplicate.js';

/** Each is read with its rows first, so more than these take too long. */
export const mostDuplicated = 50;

/** Whether copies of its records can be saved as they are: none needs a value of its own. */
export const canDuplicate = (table: Table): boolean => !table.fields.some((field) => field.required && field.unique && !isGiven(field));

/** What adds a copy of each of the records. */
export async function writesOfDuplicates(
  app: AppInHand,
  table: Table,
  around: ReturnType<typeof useCircumstances>,
  chosen: readonly RecordAnswer[],
): Promise<readonly Write[]> {
  const closed = closedFields(app.rights);
  const rows = formFor(app.design, table.id, rolesInHand(app)).items.flatMap((item) => (item.kind === 'children' ? [item.relationship] : []));
  const shown = rows.filter((id) => app.design.relationships.some((relationship) => relationship.id === id && app.rights[relationship.child]?.add === true));
  const [, ...records] = await Promise.all([
    loadLanguage(),
    ...chosen.map(({ id }): Promise<OpenRecord> => call(contract.readRecord, { params: { app: app.id, table: table.id, id } })),
  ]);
  return records.flatMap((open, at) => {
    const { draft } = duplicateOf(
      app.design,
      table,
      open,
      shown,
      (of) => emptyValues(app.design, of, around, {}),
      (field) => closed.has(field.id),
    );
    return writesOf(app.design, table.id, null, draft, closed).writes.map((write) => namedApart(write, String(at)));
  });
}

/** The same write among those of other copies, which name their records alike. */
function namedApart(write: Write, of: string): Write {
  if (write.kind !== 'add') return write;
  const values = Object.entries(write.values).map(([field, value]) => [
    field,
    typeof value === 'object' && value !== null ? { added: `${of} ${value.added}` } : value,
  ]);
  return { ...write, as: `${of} ${write.as}`, values: Object.fromEntries(values) as typeof write.values };
}
