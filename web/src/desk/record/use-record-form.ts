import {
  contract,
  tablesTouched,
  type Conflict,
  type Form,
  type OpenRecord,
  type RecordAnswer,
  type Selection,
  type Table,
  type Typed,
  type Write,
} from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type RefObject } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { ApiRefusal, call, messageOf } from '../../state/api.js';
import { closedFields, useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { justSaved, recordName, touched, useInUse } from '../../state/live.js';
import { withSelection } from '../list/selection.js';
import { useCarried } from './carry.js';
import { useKeptDraft } from './kept-draft.js';
import { mark, type Mark } from './mark.js';
import { tellTyped } from '../../fields/typed.js';
import { areUploading, uploadsEnded } from '../../fields/underway.js';
import { referredName, typedOf, writesOf, type RecordDraft, type ReferredDraft, type TypedValues, type WritePath } from './draft.js';
import { onlyShown, showSaved, typedSince } from './referred.js';
import { locale } from '../../state/locale.js';
import { loadLanguage } from '../../state/language.js';

export type SaveState =
  | { readonly kind: 'editing' }
  | { readonly kind: 'saving' }
  /** Nothing was saved: some values are marked as what they can't be. */
  | { readonly kind: 'incorrect' }
  | { readonly kind: 'refused'; readonly message: string }
  /** Someone else was faster: theirs, what was there when this form was opened, and mine. */
  | {
      readonly kind: 'conflict';
      readonly conflict: Conflict;
      readonly path: WritePath;
      readonly table: string;
      readonly mine: TypedValues;
      readonly base: TypedValues;
    }
  | { readonly kind: 'saved'; readonly at: string };

export interface FormRow {
  key: string;
  id: number | null;
  rev: number;
  values: Record<string, Typed>;
  begun?: Record<string, Typed>;
  cut?: readonly string[];
}
/** The values of the form library: a draft, whose rows it can rearrange. */
export interface FormValues {
  own: Record<string, Typed>;
  children: Record<string, FormRow[]>;
  /** Replaced as a whole with each change. */
  referred?: Readonly<Record<string, ReferredDraft>>;
}
/** With a place for what is changed of others, so that a form in which it was changed back is as it was. */
const beginning = (start: RecordDraft): FormValues => ({ ...(start as unknown as FormValues), referred: {} });

// A saved record is read anew, and its form begins anew with it: what was saved when is remembered beyond that.
let lastSaved: { readonly record: string; readonly at: string } | null = null;

/** The state of one form and the ways it changes: save, cancel, settle a conflict. */
export function useRecordForm({
  table,
  open,
  start,
  selection,
  layout,
  required,
  referredHere,
  keptAs = null,
  onAdded,
  onGivenUp,
}: {
  readonly table: Table;
  readonly layout?: Form;
  /** The name under which what is typed is kept until it is saved; null: it is not. */
  readonly keptAs?: string | null;
  /** What the form itself requires as it is filled now. */
  readonly required?: RefObject<ReadonlySet<string>>;
  /** The fields of other records that are changed in it. */
  readonly referredHere?: RefObject<ReadonlyMap<string, string>>;
  readonly open: OpenRecord | null;
  readonly start: RecordDraft;
  readonly selection: Selection;
  readonly onAdded?: ((id: number) => void) | undefined;
  /** Called when what was typed is cancelled: others might have saved in the meantime. */
  readonly onGivenUp?: (() => void) | undefined;
}) {
  const app = useApp();
  const client = useQueryClient();
  const navigate = useNavigate();
  const form = useForm<FormValues>({ defaultValues: beginning(start), shouldFocusError: true });
  const nameOf = (id: number): string => `${app.id} ${table.id} ${id}`;
  const [state, setState] = useState<SaveState>(() =>
    open !== null && lastSaved?.record === nameOf(open.record.id) ? { kind: 'saved', at: lastSaved.at } : { kind: 'editing' },
  );
  useInUse(open === null ? null : recordName(table.id, open.record.id), form.formState.isDirty || (state.kind !== 'saved' && state.kind !== 'editing'));
  const carry = useCarried(open === null ? null : nameOf(open.record.id), form);
  const isLeavingAllowed = useRef(false);
  // One key for one intention: a save whose answer was lost is sent again under the same key, and is then one save.
  const attempt = useRef<{ readonly body: string; readonly key: string } | null>(null);
  // What the record was when it was opened. A settled conflict moves it on to what is in the database now.
  const base = useRef<{ readonly rev: number; readonly start: RecordDraft } | null>(open === null ? null : { rev: open.record.rev, start });

  const kept = useKeptDraft(keptAs, form, () => ({ rev: base.current?.rev ?? null, start: base.current?.start ?? start }));
  /** Brings back what was kept: on the version that it was begun on, so that what others saved since is a conflict. */
  const bringBack = (): void => {
    if (kept.found === null) return;
    const { rev, start: begun, values } = kept.found;
    if (rev !== null) base.current = { rev, start: begun };
    form.reset(values as unknown as FormValues, { keepDefaultValues: true });
    kept.forget();
  };

  /** @param then what comes after it: the record, or a form for another one */
  const save = async (then: 'stay' | 'add' = 'stay'): Promise<void> => {
    if (state.kind === 'saving') return;
    tellTyped();
    form.clearErrors();
    if (areUploading()) {
      setState({ kind: 'saving' });
      await uploadsEnded();
    }
    try {
      await loadLanguage();
    } catch (error) {
      return setState({ kind: 'refused', message: messageOf(error) });
    }
    const shown = (): RecordDraft => onlyShown(form.getValues(), new Set(referredHere?.current.values()));
    const now = shown();
    const existing = open === null || base.current === null ? null : { id: open.record.id, ...base.current };
    const { writes, paths, issues: wrong } = writesOf(app.design, table.id, existing, now, closedFields(app.rights));
    const issues = [...wrong, ...missingIn(table, now, required?.current ?? new Set())];
    if (issues.length > 0) {
      mark(form, issues);
      return setState({ kind: 'incorrect' });
    }
    if (writes.length === 0) {
      form.reset(form.getValues());
      setState({ kind: 'saved', at: clock() });
      if (then === 'add') await toNext(null);
      return;
    }
    setState({ kind: 'saving' });
    // Typing goes on while this is under way, and the form changes its values in place.
    const sent = structuredClone(now);
    const body = JSON.stringify(writes);
    if (attempt.current?.body !== body) attempt.current = { body, key: crypto.randomUUID() };
    try {
      const { records } = await call(contract.saveRecords, { params: { app: app.id }, body: { key: attempt.current.key, writes: [...writes] } });
      attempt.current = null;
      carry(sent);
      const revOf = (name: string): number | undefined => records.find((record) => paths[record.write] === `referred.${name}`)?.rev;
      const late = typedSince(shown().referred, sent.referred, revOf);
      showSaved(client, app, sent.referred, revOf);
      if (open !== null && paths.some((path) => path === null || !path.startsWith('referred.'))) justSaved.add(recordName(table.id, open.record.id));
      await saved(records.find((record) => paths[record.write] === 'own')?.id ?? open?.record.id, tablesTouched(app.design, writes), then, late);
    } catch (error) {
      const gone = goneAlready(error, writes);
      if (gone !== null && base.current !== null) {
        // Somebody else has removed it in the meantime: what was wanted is so.
        base.current = { ...base.current, start: withoutRow(base.current.start, gone) };
        setState({ kind: 'editing' });
        return save(then);
      }
      refused(
        error,
        paths,
        now,
        writes.map((write) => write.table),
      );
    }
  };

  const toNext = async (added: number | null): Promise<void> => {
    isLeavingAllowed.current = true;
    await navigate(withSelection(`/desk/${app.id}/${table.id}/new`, selection), { state: { added } });
  };

  const saved = async (id: number | undefined, tables: readonly string[], then: 'stay' | 'add', late: NonNullable<RecordDraft['referred']>): Promise<void> => {
    form.reset({ ...form.getValues(), referred: {} });
    if (Object.keys(late).length > 0) form.setValue('referred', late, { shouldDirty: true });
    kept.forget();
    const at = clock();
    if (id !== undefined) lastSaved = { record: nameOf(id), at };
    setState({ kind: 'saved', at });
    if (then === 'add' && id !== undefined) {
      void touched(client, app, tables);
      return toNext(id);
    }
    if (open === null && id !== undefined) {
      isLeavingAllowed.current = true;
      void touched(client, app, tables);
      if (onAdded !== undefined) return onAdded(id);
      if (layout?.afterAdding === 'new') return toNext(id);
      if (layout?.afterAdding === 'list') {
        await navigate(withSelection(`/desk/${app.id}/${table.id}`, selection), { state: { added: { id, thanks: layout.thanks } } });
        return;
      }
      await navigate(withSelection(`/desk/${app.id}/${table.id}/${id}`, selection), { replace: true });
      return;
    }
    await touched(client, app, tables);
  };

  const refused = (error: unknown, paths: readonly WritePath[], now: RecordDraft, tables: readonly string[]): void => {
    if (error instanceof ApiRefusal && error.answer.code === 'conflict') {
      const [conflict] = error.answer.details;
      const path = conflict === undefined ? undefined : paths[conflict.write];
      if (conflict !== undefined && path !== undefined) {
        const part = partAt(path, now, base.current?.start ?? start, conflict.current);
        return setState({ kind: 'conflict', conflict, path, table: tables[conflict.write] ?? table.id, ...part });
      }
    }
    const placed =
      error instanceof ApiRefusal
        ? error.issues.flatMap((issue) =>
            issue.write === undefined || issue.field === undefined || paths[issue.write] == null
              ? []
              : [{ path: `${paths[issue.write] ?? ''}${paths[issue.write] === 'own' ? '' : '.values'}.${issue.field}`, message: issue.message }],
          )
        : [];
    if (placed.length > 0) mark(form, placed);
    setState(placed.length > 0 ? { kind: 'incorrect' } : { kind: 'refused', message: messageOf(error) });
  };

  /** Takes the chosen values over what is there now, and saves them. */
  const settle = async (chosen: TypedValues): Promise<void> => {
    if (state.kind !== 'conflict' || state.conflict.current === null || base.current === null) return;
    const { current } = state.conflict;
    const owner = app.design.tables.find((one) => one.id === state.table) ?? table;
    const theirs = Object.fromEntries(owner.fields.map((field) => [field.id, typedOf(field, current.values[field.id] ?? null)]));
    if (state.path === 'own') {
      base.current = { rev: current.rev, start: { ...base.current.start, own: theirs } };
      for (const [field, value] of Object.entries(chosen)) form.setValue(`own.${field}`, value, { shouldDirty: true });
    } else if (state.path?.startsWith('referred.') === true) {
      const name = referredName(state.table, current.id);
      const { [name]: mine, ...rest } = form.getValues().referred ?? {};
      if (mine !== undefined)
        form.setValue('referred', { ...rest, [name]: { ...mine, rev: current.rev, start: theirs, values: chosen } }, { shouldDirty: true });
    } else if (state.path !== null) {
      const [, relationship = '', place = '0'] = state.path.split('.');
      const rows = base.current.start.children[relationship] ?? [];
      const row = form.getValues().children[relationship]?.[Number(place)];
      base.current = {
        ...base.current,
        start: {
          ...base.current.start,
          children: {
            ...base.current.start.children,
            [relationship]: rows.map((one) => (one.key === row?.key ? { ...one, rev: current.rev, values: theirs } : one)),
          },
        },
      };
      form.setValue(`children.${relationship}.${Number(place)}.rev`, current.rev);
      for (const [field, value] of Object.entries(chosen))
        form.setValue(`children.${relationship}.${Number(place)}.values.${field}`, value, { shouldDirty: true });
    }
    setState({ kind: 'editing' });
    await save();
  };

  const giveUp = (): void => {
    form.reset(beginning(start));
    kept.forget();
    onGivenUp?.();
    setState({ kind: 'editing' });
    if (open !== null) void client.invalidateQueries({ queryKey: keys.record(app.id, table.id, open.record.id) });
  };

  return {
    form,
    state,
    save,
    giveUp,
    settle,
    leaveAside: () => setState({ kind: 'editing' }),
    isLeavingAllowed,
    kept: kept.found,
    bringBack,
    forget: kept.forget,
  };
}

/** The row that a save wanted to remove and that is not there any more, if this is what refused it. */
function goneAlready(error: unknown, writes: readonly Write[]): number | null {
  if (!(error instanceof ApiRefusal) || error.answer.code !== 'conflict') return null;
  const [conflict] = error.answer.details;
  const write = conflict?.current === null ? writes[conflict.write] : undefined;
  return write?.kind === 'remove' ? write.id : null;
}
const withoutRow = (draft: RecordDraft, id: number): RecordDraft => ({
  ...draft,
  children: Object.fromEntries(Object.entries(draft.children).map(([relationship, rows]) => [relationship, rows.filter((row) => row.id !== id)])),
});

/** What a form requires and that is empty. */
export const missingIn = (table: Table, { own }: RecordDraft, required: ReadonlySet<string>): readonly Mark[] =>
  table.fields
    .filter((field) => required.has(field.id) && !field.required && (own[field.id] === '' || own[field.id] == null))
    .map((field) => ({ path: `own.${field.id}`, message: `${field.name} is required` }));

const clock = (): string => locale().time(Date.now());

/** My values and those at the time of opening, for the record or row that a conflict is about. */
function partAt(
  path: WritePath,
  now: RecordDraft,
  start: RecordDraft,
  current: RecordAnswer | null,
): { readonly mine: TypedValues; readonly base: TypedValues } {
  if (path === 'own') return { mine: now.own, base: start.own };
  if (path === null) {
    const before = Object.values(start.children)
      .flat()
      .find((row) => row.id === current?.id);
    return { mine: {}, base: before?.values ?? {} };
  }
  if (path.startsWith('referred.')) {
    const one = now.referred?.[path.slice('referred.'.length)];
    return { mine: { ...one?.start, ...one?.values }, base: one?.start ?? {} };
  }
  const [, relationship = '', place = '0'] = path.split('.');
  const row = now.children[relationship]?.[Number(place)];
  return { mine: row?.values ?? {}, base: start.children[relationship]?.find((one) => one.key === row?.key)?.values ?? {} };
}
