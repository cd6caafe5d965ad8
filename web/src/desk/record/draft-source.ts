/** The records that formulas of a form walk through: what is in the form, as typed, and stored records around it. */
import {
  NotAtHand,
  relationshipOf,
  type AppDesign,
  type Given,
  type OpenRecord,
  type RecordAnswer,
  type RecordSource,
  type RecordValue,
  type Value,
} from '@bibliona/core';
import { referredName, valueOf, type RecordDraft, type TypedValues } from './draft.js';

/** Raised when only the server can tell: records that belong to the saved one and are in no part of the form. */
export class OnlyWhenSaved extends Error {}

/** Stored records that were fetched for the formulas of a form. */
export class KnownRecords {
  private readonly answers = new Map<string, RecordAnswer>();
  private readonly opened = new Map<string, OpenRecord>();

  constructor(design: AppDesign, records: readonly { readonly table: string; readonly open: OpenRecord }[]) {
    for (const { table, open } of records) {
      this.answers.set(`${table} ${open.record.id}`, open.record);
      this.opened.set(`${table} ${open.record.id}`, open);
      for (const block of open.children) {
        const { child } = relationshipOf(design, block.relationship);
        for (const record of block.records) this.answers.set(`${child} ${record.id}`, record);
      }
    }
  }
  answer(record: RecordValue): RecordAnswer | undefined {
    return this.answers.get(`${record.table} ${record.id}`);
  }
  open(record: RecordValue): OpenRecord | undefined {
    return this.opened.get(`${record.table} ${record.id}`);
  }
}

/** The record of the form is called `own`, a row of it `relationship.place`; all others have their ids. */
export function draftSource(
  design: AppDesign,
  table: string,
  id: number | null,
  draft: RecordDraft,
  known: KnownRecords,
): RecordSource & Required<Pick<Given, 'numberOf' | 'isMine' | 'made'>> {
  const own: RecordValue = { kind: 'record', table, id: 'own' };
  const isOwn = (record: RecordValue): boolean => record.table === table && (record.id === 'own' || record.id === id);
  const rowOf = (record: RecordValue): { readonly relationship: string; readonly id: number | null; readonly values: TypedValues } | null => {
    if (typeof record.id !== 'string' || record.id === 'own') return null;
    const [relationship = '', place = ''] = record.id.split('.');
    const row = draft.children[relationship]?.[Number(place)];
    return row === undefined ? null : { relationship, id: row.id, values: row.values };
  };
  const numberOf = (record: RecordValue): number | null => (typeof record.id === 'number' ? record.id : isOwn(record) ? id : (rowOf(record)?.id ?? null));
  return {
    numberOf,
    isMine: (record) => {
      // What is being entered is this person's; who created the others only the server knows.
      if (numberOf(record) === null) return true;
      throw new OnlyWhenSaved();
    },
    // When it is saved only the clock of the server knows.
    made: () => {
      throw new OnlyWhenSaved();
    },
    value: (record, field): Value => {
      const row = rowOf(record);
      // A row of the form refers to the record of the form, which might have no id yet.
      if (row !== null && relationshipOf(design, row.relationship).field === field.id) return { id: own.id as unknown as number, caption: '' };
      const referred = typeof record.id === 'number' ? draft.referred?.[referredName(record.table, record.id)]?.values : undefined;
      const typed = isOwn(record) ? draft.own : (row?.values ?? (referred !== undefined && field.id in referred ? referred : undefined));
      if (typed !== undefined) {
        const parsed = valueOf(field, typed[field.id] ?? null);
        return parsed.ok ? parsed.value : null;
      }
      const answer = known.answer(record);
      if (answer === undefined) throw new NotAtHand(record);
      return answer.values[field.id] ?? null;
    },
    children: (record, relationship): readonly RecordValue[] => {
      const { child } = relationship;
      if (isOwn(record)) {
        const rows = draft.children[relationship.id];
        if (rows !== undefined) return rows.map((_, i) => ({ kind: 'record', table: child, id: `${relationship.id}.${i}` }));
        if (id === null) return [];
        throw new OnlyWhenSaved();
      }
      if (rowOf(record) !== null) throw new OnlyWhenSaved();
      const open = known.open(record);
      if (open === undefined) throw new NotAtHand(record);
      const block = open.children.find((one) => one.relationship === relationship.id);
      if (block === undefined || block.more) throw new OnlyWhenSaved();
      // The record in the form may be among them: asked for its values, it answers as it is there.
      return block.records.map((one) => ({ kind: 'record', table: child, id: one.id }));
    },
  };
}
