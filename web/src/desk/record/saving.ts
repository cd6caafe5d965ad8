/** What a form saves, and what comes of it: the writes, where its errors belong, what a conflict leaves to choose. It knows no screen. */
import { mostWrites, tableOf, type AppDesign, type Conflict, type RecordAnswer, type RefusalAnswer, type Table, type Write } from '@bibliona/core';
import { locale } from '../../state/locale.js';
import { referredName, typedRecord, writesOf, type DraftIssue, type RecordDraft, type TypedValues, type WritePath } from './draft.js';

/** Someone else was faster: theirs, what was there when the form was opened, and mine. */
export interface SaveConflict {
  readonly conflict: Conflict;
  readonly path: WritePath;
  readonly table: string;
  readonly mine: TypedValues;
  readonly base: TypedValues;
}

/** A save as it is sent. */
export interface Sent {
  readonly writes: readonly Write[];
  readonly paths: readonly WritePath[];
  /** The draft at that moment: typing goes on while it is under way. */
  readonly draft: RecordDraft;
  readonly key: string;
}

export type Prepared =
  | { readonly kind: 'incorrect'; readonly issues: readonly DraftIssue[] }
  /** Nothing is changed. */
  | { readonly kind: 'same' }
  /** More than one save takes. */
  | { readonly kind: 'refused'; readonly message: string }
  | { readonly kind: 'send'; readonly sent: Sent };

export type Refused =
  /** What it was refused for is settled: it is to be sent anew. */
  | { readonly kind: 'again' }
  | ({ readonly kind: 'conflict' } & SaveConflict)
  | { readonly kind: 'incorrect'; readonly issues: readonly DraftIssue[] }
  | { readonly kind: 'refused'; readonly message: string };

/** A value for a place of the form, by its dotted path. */
export interface Edit {
  readonly path: string;
  readonly value: unknown;
}

export class RecordSaving {
  // What the record was when it was opened. A settled conflict moves it on to what is in the database now.
  private base: { readonly rev: number; readonly start: RecordDraft } | null;
  // One key for one intention: a save whose answer was lost is sent again under the same key, and is then one save.
  private attempt: { readonly body: string; readonly key: string } | null = null;

  /**
   * @param record the record that is changed; null: one is added
   * @param start what the form began with
   */
  constructor(
    private readonly table: string,
    private readonly record: { readonly id: number; readonly rev: number } | null,
    private readonly start: RecordDraft,
  ) {
    this.base = record === null ? null : { rev: record.rev, start };
  }

  /** The version that the form is based on, and what it was then. */
  get begun(): { readonly rev: number | null; readonly start: RecordDraft } {
    return this.base ?? { rev: null, start: this.start };
  }

  /** Goes on with a draft that was begun on another version. */
  beginAt(rev: number, start: RecordDraft): void {
    this.base = { rev, start };
  }

  /**
   * @param closed fields that are not this person's to write
   * @param required what the form itself requires as it is filled now
   */
  prepare(design: AppDesign, draft: RecordDraft, closed: ReadonlySet<string>, required: ReadonlySet<string>): Prepared {
    const existing = this.record === null || this.base === null ? null : { id: this.record.id, ...this.base };
    const { writes, paths, issues: wrong } = writesOf(design, this.table, existing, draft, closed);
    const issues = [...wrong, ...missingIn(tableOf(design, this.table), draft, required)];
    if (issues.length > 0) return { kind: 'incorrect', issues };
    if (writes.length === 0) return { kind: 'same' };
    if (writes.length > mostWrites) return { kind: 'refused', message: tooMany(writes.length) };
    const body = JSON.stringify(writes);
    if (this.attempt?.body !== body) this.attempt = { body, key: crypto.randomUUID() };
    return { kind: 'send', sent: { writes, paths, draft: structuredClone(draft), key: this.attempt.key } };
  }

  /** Is told that the last save was taken. */
  saved(): void {
    this.attempt = null;
  }

  /**
   * @param refusal null: there was no answer
   * @param message what to say of it where nothing better is known
   */
  refused(refusal: RefusalAnswer | null, message: string, { writes, paths, draft }: Sent): Refused {
    if (refusal?.code === 'conflict') {
      const [conflict] = refusal.details;
      const write = conflict === undefined ? undefined : writes[conflict.write];
      if (write?.kind === 'remove' && conflict?.current === null && this.base !== null) {
        // Somebody else has removed it in the meantime: what was wanted is so.
        this.base = { ...this.base, start: withoutRow(this.base.start, write.id) };
        return { kind: 'again' };
      }
      const path = conflict === undefined ? undefined : paths[conflict.write];
      if (conflict !== undefined && path !== undefined)
        return { kind: 'conflict', conflict, path, table: write?.table ?? this.table, ...partAt(path, draft, this.begun.start, conflict.current) };
    }
    const issues = (refusal?.issues ?? []).map(({ write, field, message: says }): DraftIssue => {
      const path = (write === undefined ? null : paths[write]) ?? '';
      return field === undefined || path === '' ? { path, message: says } : { path: `${path}${path === 'own' ? '' : '.values'}.${field}`, message: says };
    });
    return issues.length > 0 ? { kind: 'incorrect', issues } : { kind: 'refused', message };
  }

  /**
   * Bases the form on what is there now.
   * @param chosen the values to save over that
   * @returns what becomes of the form
   */
  settle(design: AppDesign, { conflict: { current }, path, table }: SaveConflict, chosen: TypedValues, draft: RecordDraft): readonly Edit[] {
    if (this.base === null || current === null || path === null) return [];
    const theirs = typedRecord(tableOf(design, table), current);
    const valuesAt = (place: string): Edit[] => Object.entries(chosen).map(([field, value]) => ({ path: `${place}.${field}`, value }));
    if (path === 'own') {
      this.base = { rev: current.rev, start: { ...this.base.start, own: theirs } };
      return valuesAt('own');
    }
    if (path.startsWith('referred.')) {
      const name = referredName(table, current.id);
      const { [name]: mine, ...others } = draft.referred ?? {};
      return mine === undefined ? [] : [{ path: 'referred', value: { ...others, [name]: { ...mine, rev: current.rev, start: theirs, values: chosen } } }];
    }
    const [, relationship = '', at = '0'] = path.split('.');
    const { start } = this.base;
    const key = draft.children[relationship]?.[Number(at)]?.key;
    const rows = (start.children[relationship] ?? []).map((row) => (row.key === key ? { ...row, rev: current.rev, values: theirs } : row));
    this.base = { ...this.base, start: { ...start, children: { ...start.children, [relationship]: rows } } };
    return [{ path: `${path}.rev`, value: current.rev }, ...valuesAt(`${path}.values`)];
  }
}

const tooMany = (count: number): string =>
  `One save takes ${locale().count(mostWrites)} records at most, and this would be ${locale().count(count)}. Nothing was saved. Undo the last paste and add the rows in parts, or import them from a file.`;

const withoutRow = (draft: RecordDraft, id: number): RecordDraft => ({
  ...draft,
  children: Object.fromEntries(Object.entries(draft.children).map(([relationship, rows]) => [relationship, rows.filter((row) => row.id !== id)])),
});

/** What a form requires and that is empty. */
export const missingIn = (table: Table, { own }: RecordDraft, required: ReadonlySet<string>): readonly DraftIssue[] =>
  table.fields
    .filter((field) => required.has(field.id) && !field.required && (own[field.id] === '' || own[field.id] == null))
    .map((field) => ({ path: `own.${field.id}`, message: `${field.name} is required` }));

/** My values and those at the time of opening, for the record or row that a conflict is about. */
function partAt(path: WritePath, draft: RecordDraft, start: RecordDraft, current: RecordAnswer | null): Pick<SaveConflict, 'mine' | 'base'> {
  if (path === 'own') return { mine: draft.own, base: start.own };
  if (path === null) {
    const before = Object.values(start.children)
      .flat()
      .find((row) => row.id === current?.id);
    return { mine: {}, base: before?.values ?? {} };
  }
  if (path.startsWith('referred.')) {
    const changed = draft.referred?.[path.slice('referred.'.length)];
    return { mine: { ...changed?.start, ...changed?.values }, base: changed?.start ?? {} };
  }
  const [, relationship = '', at = '0'] = path.split('.');
  const row = draft.children[relationship]?.[Number(at)];
  return { mine: row?.values ?? {}, base: start.children[relationship]?.find((before) => before.key === row?.key)?.values ?? {} };
}
