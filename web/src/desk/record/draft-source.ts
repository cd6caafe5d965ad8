/** The records that formulas of a form walk through: what is in the form, as typed, and stored records around it. */
import {
  isReference,
  NotAtHand,
  relationshipOf,
  type AppDesign,
  type Field,
  type Given,
  type OpenRecord,
  type RecordAnswer,
  type RecordSource,
  type RecordValue,
  type Relationship,
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

/** A record that is changed in the form, by what it is called there. */
interface Changed {
  readonly name: RecordValue['id'];
  /** Null: not saved yet. */
  readonly id: number | null;
  readonly values: TypedValues;
  /** Of a row of the form: the relationship by which it belongs to the record of the form. */
  readonly of?: Relationship;
}

/**
 * The record of the form is called `own`, a row of it `relationship.place`; all others have their ids.
 * @param opened what was opened; null: a new record
 */
export function draftSource(
  design: AppDesign,
  table: string,
  opened: OpenRecord | null,
  draft: RecordDraft,
  known: KnownRecords,
): RecordSource & Required<Pick<Given, 'numberOf' | 'isMine' | 'made'>> {
  const id = opened?.record.id ?? null;
  const own: RecordValue = { kind: 'record', table, id: 'own' };
  const changed = new Map<string, Changed>();
  const inTable = new Map<string, Changed[]>();
  const enter = (of: string, each: Changed): void => {
    for (const name of new Set([each.name, each.id ?? each.name])) changed.set(`${of} ${name}`, each);
    const all = inTable.get(of);
    if (all === undefined) inTable.set(of, [each]);
    else all.push(each);
  };
  enter(table, { name: 'own', id, values: draft.own });
  const removed = new Set<string>();
  for (const [relationship, rows] of Object.entries(draft.children)) {
    const of = relationshipOf(design, relationship);
    for (const [place, row] of rows.entries()) enter(of.child, { name: `${relationship}.${place}`, id: row.id, values: row.values, of });
    const here = new Set(rows.map((row) => row.id));
    for (const record of opened?.children.find((block) => block.relationship === relationship)?.records ?? [])
      if (!here.has(record.id)) removed.add(`${of.child} ${record.id}`);
  }
  for (const referred of Object.values(draft.referred ?? {}))
    if (!changed.has(referredName(referred.table, referred.id))) enter(referred.table, { name: referred.id, id: referred.id, values: referred.values });

  const changedAs = (record: RecordValue): Changed | undefined => changed.get(`${record.table} ${record.id}`);
  const isOwn = (record: RecordValue): boolean => changedAs(record)?.name === 'own' && record.table === table;
  const numberOf = (record: RecordValue): number | null => (typeof record.id === 'number' ? record.id : (changedAs(record)?.id ?? null));
  /** The record that a reference of a changed one leads to: one with an id, the record of the form, or none. */
  const leadsTo = (each: Changed, field: string): number | 'own' | null => {
    if (each.of?.field === field) return 'own';
    const typed = each.values[field];
    return isReference(typed) ? typed.id : null;
  };
  const value = (record: RecordValue, field: Field): Value => {
    const changed = changedAs(record);
    // A row of the form refers to the record of the form, which might have no id yet.
    if (changed?.of?.field === field.id) return { id: own.id as unknown as number, caption: '' };
    // Of what is only referred to, the rest is as it is stored.
    if (changed !== undefined && (changed.name !== changed.id || field.id in changed.values)) {
      const parsed = valueOf(field, changed.values[field.id] ?? null);
      return parsed.ok ? parsed.value : null;
    }
    const answer = known.answer(record);
    if (answer === undefined) throw new NotAtHand(record);
    return answer.values[field.id] ?? null;
  };
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
    value,
    children: (record, relationship): readonly RecordValue[] => {
      const { child } = relationship;
      const called = (name: RecordValue['id']): RecordValue => ({ kind: 'record', table: child, id: name });
      if (isOwn(record)) {
        const rows = draft.children[relationship.id];
        if (rows !== undefined) return rows.map((_, i) => called(`${relationship.id}.${i}`));
        if (id === null) return [];
        throw new OnlyWhenSaved();
      }
      const stored = numberOf(record);
      // A new row has no children yet. Those of saved rows would have to be fetched for each row by itself.
      if (stored === null) return [];
      if (changedAs(record)?.of !== undefined) throw new OnlyWhenSaved();
      const open = known.open(record);
      if (open === undefined) throw new NotAtHand(record);
      const block = open.children.find((each) => each.relationship === relationship.id);
      if (block === undefined || block.more) throw new OnlyWhenSaved();
      // What is changed in the form is there where it leads to as it is filled now, and answers as it is there.
      const others = (inTable.get(child) ?? []).filter((each) => each.name !== each.id || relationship.field in each.values);
      const here = others.filter((other) => leadsTo(other, relationship.field) === stored);
      const moved = new Set(others.map((other) => other.id));
      const rest = block.records.filter((each) => !removed.has(`${child} ${each.id}`) && !moved.has(each.id));
      return [...rest.map((each) => called(each.id)), ...here.map((each) => called(each.id ?? each.name))].toSorted(byNumber);
    },
  };
}

/** Those with a number by it, the others after them in their order: as the server has them once they are saved. */
const byNumber = (a: RecordValue, b: RecordValue): number => (typeof a.id === 'number' ? a.id : Infinity) - (typeof b.id === 'number' ? b.id : Infinity) || 0;
