import { contract, tablesTouched, type Form, type OpenRecord, type Selection, type Table } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState, type RefObject } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { ApiRefusal, call, messageOf } from '../../state/api.js';
import { closedFields, useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { justSaved, recordName, touched, useInUse } from '../../state/live.js';
import { withSelection } from '../list/selection.js';
import { useCarried } from './carry.js';
import { useKeptDraft } from './kept-draft.js';
import { beginning, type FormValues } from './form-values.js';
import { mark } from './mark.js';
import { RecordSaving, type SaveConflict } from './saving.js';
import { tellTyped } from '../../fields/typed.js';
import { areUploading, uploadsEnded } from '../../fields/underway.js';
import type { RecordDraft, TypedValues } from './draft.js';
import { onlyShown, showSaved, typedSince } from './referred.js';
import { locale } from '../../state/locale.js';
import { loadLanguage } from '../../state/language.js';

export type SaveState =
  | { readonly kind: 'editing' }
  | { readonly kind: 'saving' }
  /** Nothing was saved: some values are marked as what they can't be. `others`: what else is wrong, which is no value on the form. */
  | { readonly kind: 'incorrect'; readonly others: readonly string[] }
  | { readonly kind: 'refused'; readonly message: string }
  | ({ readonly kind: 'conflict' } & SaveConflict)
  | { readonly kind: 'saved'; readonly at: string };

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
  // Asked for while a save is under way: that one is done first.
  const savesAgain = useRef(false);
  // The record is saved, and a form with its number and revision comes next. Another save from this one would add it again, or be a conflict.
  const isOver = useRef(false);
  const isGone = useRef(false);
  useEffect(() => {
    isGone.current = false;
    return () => {
      isGone.current = true;
    };
  }, []);
  const carry = useCarried(open === null ? null : nameOf(open.record.id), form, savesAgain, () => void save());
  const isLeavingAllowed = useRef(false);
  const [saving] = useState(() => new RecordSaving(table.id, open?.record ?? null, start));
  const keptDraft = useKeptDraft(keptAs, form, () => saving.begun);
  /** Brings back what was kept: on the version that it was begun on, so that what others saved since is a conflict. */
  const bringBack = (): void => {
    if (keptDraft.found === null) return;
    const { rev, start: begun, values } = keptDraft.found;
    if (rev !== null) saving.beginAt(rev, begun);
    form.reset(values as unknown as FormValues, { keepDefaultValues: true });
    keptDraft.forget();
  };

  /** @param then what comes after it: the record, or a form for another one */
  const save = async (then: 'stay' | 'add' = 'stay'): Promise<void> => {
    if (state.kind === 'saving' || isOver.current) {
      savesAgain.current = true;
      return;
    }
    savesAgain.current = false;
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
    const prepared = saving.prepare(app.design, shown(), closedFields(app.rights), required?.current ?? new Set());
    if (prepared.kind === 'incorrect') {
      return setState({ kind: 'incorrect', others: mark(form, prepared.issues) });
    }
    if (prepared.kind === 'refused') return setState(prepared);
    if (prepared.kind === 'same') {
      form.reset(form.getValues());
      setState({ kind: 'saved', at: clock() });
      if (then === 'add') await toNext(null);
      return;
    }
    const { sent } = prepared;
    const { writes, paths, draft, key } = sent;
    setState({ kind: 'saving' });
    try {
      const { records } = await call(contract.saveRecords, { params: { app: app.id }, body: { key, writes: [...writes] } });
      saving.saved();
      const numberOf = (path: string): number | undefined => records.find((record) => paths[record.write] === path)?.id;
      const id = numberOf('own') ?? open?.record.id;
      // Only where the form of that record comes next: else what is carried would wait for it.
      const opensNext = then === 'stay' && (open !== null || (onAdded === undefined && layout?.afterAdding !== 'new' && layout?.afterAdding !== 'list'));
      if (id !== undefined && opensNext) carry({ record: nameOf(id), draft, idOf: (relationship, index) => numberOf(`children.${relationship}.${index}`) });
      const hasChanged = paths.some((path) => path === null || !path.startsWith('referred.'));
      isOver.current = open === null ? id !== undefined : hasChanged;
      const revOf = (name: string): number | undefined => records.find((record) => paths[record.write] === `referred.${name}`)?.rev;
      const late = typedSince(shown().referred, draft.referred, revOf);
      showSaved(client, app, draft.referred, revOf);
      if (open !== null && hasChanged) justSaved.add(recordName(table.id, open.record.id));
      await saved(id, tablesTouched(app.design, writes), then, late);
      if (open !== null && then === 'stay') setTimeout(goOn);
    } catch (error) {
      const refused = saving.refused(error instanceof ApiRefusal ? error.answer : null, messageOf(error), sent);
      if (refused.kind === 'again') {
        setState({ kind: 'editing' });
        return save(then);
      }
      if (refused.kind !== 'incorrect') return setState(refused);
      setState({ kind: 'incorrect', others: mark(form, refused.issues) });
    }
  };

  /** Where no other form has come, because the record could not be read anew, this one goes on. */
  const goOn = (): void => {
    if (isGone.current) return;
    isOver.current = false;
    if (savesAgain.current) void save();
  };

  const toNext = async (added: number | null): Promise<void> => {
    isLeavingAllowed.current = true;
    await navigate(withSelection(`/desk/${app.id}/${table.id}/new`, selection), { state: { added } });
  };

  const saved = async (id: number | undefined, tables: readonly string[], then: 'stay' | 'add', late: NonNullable<RecordDraft['referred']>): Promise<void> => {
    form.reset({ ...form.getValues(), referred: {} });
    if (Object.keys(late).length > 0) form.setValue('referred', late, { shouldDirty: true });
    keptDraft.forget();
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

  /** Takes the chosen values over what is there now, and saves them. */
  const settle = async (chosen: TypedValues): Promise<void> => {
    if (state.kind !== 'conflict' || state.conflict.current === null) return;
    for (const { path, value } of saving.settle(app.design, state, chosen, form.getValues()))
      form.setValue(path as 'own', value as FormValues['own'], { shouldDirty: true });
    setState({ kind: 'editing' });
    await save();
  };

  const giveUp = (): void => {
    form.reset(beginning(start));
    keptDraft.forget();
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
    kept: keptDraft.found,
    bringBack,
    forget: keptDraft.forget,
  };
}

const clock = (): string => locale().time(Date.now());
