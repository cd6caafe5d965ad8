/** What the checks of tables say of what is typed in a form, before it is saved. */
import { fieldOf, isStored, relationshipOf, tableOf, type AppDesign, type RecordValue, type Table } from '@bibliona/core';
import type { Language } from '../../state/language.js';
import { sameTyped, valueOf, type RecordDraft, type TypedValues } from './draft.js';

/** A record that is changed in the form. */
interface Typed {
  readonly table: Table;
  readonly of: RecordValue['id'];
  /** Of its values in the form. */
  readonly path: string;
  readonly values: TypedValues;
  readonly start: TypedValues;
  /** Whether it is not saved yet: then all that is filled is written, also what it began with. */
  readonly isNew: boolean;
}

function typedIn(design: AppDesign, table: string, isNew: boolean, start: RecordDraft, draft: RecordDraft): readonly Typed[] {
  const own: Typed = { table: tableOf(design, table), of: 'own', path: 'own', values: draft.own, start: start.own, isNew };
  const rows = Object.entries(draft.children).flatMap(([id, all]): readonly Typed[] => {
    const child = tableOf(design, relationshipOf(design, id).child);
    if (child.checks.length === 0) return [];
    const before = new Map((start.children[id] ?? []).map((row) => [row.key, row.values]));
    return all.map(({ key, id: record, values, begun }, i) => ({
      ...{ table: child, of: `${id}.${i}`, path: `children.${id}.${i}.values` },
      ...{ values, start: before.get(key) ?? begun ?? {}, isNew: record === null },
    }));
  });
  const referred = Object.entries(draft.referred ?? {}).map(([name, each]): Typed => ({
    ...{ table: tableOf(design, each.table), of: each.id, path: `referred.${name}.values` },
    ...{ values: { ...each.start, ...each.values }, start: each.start, isNew: false },
  }));
  return [own, ...rows, ...referred].filter((each) => each.table.checks.length > 0);
}

const isEmpty = (values: TypedValues, field: string): boolean => values[field] === '' || values[field] == null;

/**
 * The sentences of the checks that are broken, by the path of the field at which each is told: the last one it reads that is
 * written, as the server tells it. A check waits for the fields it reads that nobody has come to yet, and for what is typed in one to be a value.
 * @param isNew whether the record of the form is not saved yet
 * @param start what the form began with
 * @param isBroken whether the condition of a check is false of a record; false where that can't be told here
 */
export function brokenChecks(
  design: AppDesign,
  table: string,
  isNew: boolean,
  start: RecordDraft,
  draft: RecordDraft,
  { checksOf, fieldsRead }: Pick<Language, 'checksOf' | 'fieldsRead'>,
  isBroken: (table: string, of: RecordValue['id'], condition: string) => boolean,
): ReadonlyMap<string, string> {
  const told = new Map<string, string>();
  const typed = typedIn(design, table, isNew, start, draft);
  // Very many rows are of one table.
  const checks = new Map(
    [...new Set(typed.map((each) => each.table))].map((of) => [
      of,
      checksOf(design, of).map((asked) => ({ ...asked.check, reads: fieldsRead(asked, of).filter((id) => isStored(fieldOf(of, id))) })),
    ]),
  );
  for (const { table: of, path, values, start: before, of: record, isNew: isAllWritten } of typed) {
    const isChanged = (field: string): boolean => !sameTyped(values[field], before[field]);
    const isMissing = (field: string): boolean => (isChanged(field) ? !valueOf(fieldOf(of, field), values[field] ?? null).ok : isEmpty(values, field));
    for (const { condition, message, reads } of checks.get(of) ?? []) {
      if (!reads.some(isChanged) || reads.some(isMissing)) continue;
      const at = reads.findLast((field) => (isAllWritten ? !isEmpty(values, field) : isChanged(field)));
      const fieldPath = `${path}.${at ?? ''}`;
      if (at !== undefined && !told.has(fieldPath) && isBroken(of.id, record, condition)) told.set(fieldPath, message);
    }
  }
  return told;
}
