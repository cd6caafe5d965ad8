import {
  contract,
  isReference,
  NotAtHand,
  parentOf,
  TooMuch,
  type Feel,
  type Field,
  type OpenRecord,
  type RecordValue,
  type Table,
  type Value,
} from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { createContext, startTransition, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { useFormContext } from 'react-hook-form';
import { call } from '../../state/api.js';
import { useApp, useCircumstances } from '../../state/app.js';
import { useAskedAs } from '../../state/asked-as.js';
import { keys } from '../../state/keys.js';
import type { RecordDraft } from './draft.js';
import { draftSource, KnownRecords, OnlyWhenSaved } from './draft-source.js';
import type { FormValues } from './form-values.js';
import { BrokenChecks } from './told-checks.js';
import { brokenChecks } from './typed-checks.js';
import { useLanguage } from '../../state/language.js';

export type LiveValue =
  | { readonly kind: 'value'; readonly value: Value }
  /** Nothing has been changed since the record was opened: what it was opened with is true. */
  | { readonly kind: 'as_opened' }
  /** A stored record has to be fetched first. */
  | { readonly kind: 'missing'; readonly record: RecordValue }
  | { readonly kind: 'after_saving' };

interface Live {
  /** Whether a condition is true of a record of the form; where that can't be told here, `otherwise`. */
  readonly meets: (table: string, of: string, condition: string, otherwise: boolean) => boolean;
  readonly valueOf: (table: string, of: string, field: Extract<Field, { kind: 'formula' }>) => LiveValue;
  /** What an expression gives for a field of a record of the form, a reference with what its record is called; as opened while the language is not there yet. */
  readonly fill: (table: string, of: string, expression: string, field: Field) => LiveValue;
  /** What is in the form, as far as it is computed from. */
  readonly draft: RecordDraft;
  readonly fetch: (record: RecordValue) => void;
}
const LiveContext = createContext<Live | null>(null);

/** Computes the formulas of a form while it is filled in, by the same rules as the database. */
export function LiveForm({ table, open, children }: { readonly table: Table; readonly open: OpenRecord | null; readonly children: ReactNode }) {
  const { design, id: appId } = useApp();
  const around = useCircumstances();
  const client = useQueryClient();
  const as = useAskedAs();
  const {
    getValues,
    formState: { defaultValues },
  } = useFormContext<FormValues>();
  const values = useSettledValues();
  const [fetched, setFetched] = useState<readonly { readonly table: string; readonly open: OpenRecord }[]>([]);
  const asked = useRef(new Set<string>());
  const fetch = useCallback(
    (record: RecordValue): void => {
      const name = `${record.table} ${record.id}`;
      if (typeof record.id !== 'number' || asked.current.has(name)) return;
      asked.current.add(name);
      const { id } = record;
      client
        .fetchQuery({
          queryKey: keys.record(appId, record.table, id),
          queryFn: () => call(contract.readRecord, { params: { app: appId, table: record.table, id }, ...as }),
          staleTime: 5000,
        })
        .then((each) => setFetched((all) => [...all, { table: record.table, open: each }]))
        // What cannot be read counts as not there; the saved value comes from the server.
        .catch(() => undefined);
    },
    [client, appId, as],
  );
  const language = useLanguage();
  const { live, isFalse } = useMemo(() => {
    const draft = values ?? getValues();
    // What a condition hides must not be seen before it is known to be shown.
    if (language === null) {
      const none: Live = { draft, fetch, meets: () => false, valueOf: () => ({ kind: 'as_opened' }), fill: () => ({ kind: 'as_opened' }) };
      return { live: none, isFalse: () => false };
    }
    let made: ReturnType<typeof draftSource> | null = null;
    const source = (): ReturnType<typeof draftSource> => (made ??= draftSource(design, table.id, open, draft, new KnownRecords(design, fetched)));
    const valueOf = (
      owner: string,
      of: RecordValue['id'],
      expression: string,
      valueIn: (computed: Feel) => Value = (computed) => language.shown(computed, around.zone),
    ): LiveValue => {
      const checked = language.check(expression, { design, table: owner }, language.wants.anything);
      if (!checked.ok) return { kind: 'after_saving' };
      try {
        const self: RecordValue = { kind: 'record', table: owner, id: of };
        const value = language.evaluate(checked.node, { ...around, ...source(), records: source(), self });
        return { kind: 'value', value: valueIn(value) };
      } catch (error) {
        if (error instanceof NotAtHand) return { kind: 'missing', record: error.record };
        if (error instanceof OnlyWhenSaved || error instanceof TooMuch) return { kind: 'after_saving' };
        throw error;
      }
    };
    const now: Live = {
      draft,
      fetch,
      fill: (owner, of, expression, field) => {
        const filled = valueOf(owner, of, expression, (computed) => (field.kind === 'reference' ? referenceTo(computed) : language.valueFor(field, computed)));
        if (filled.kind !== 'value' || field.kind !== 'reference' || !isReference(filled.value)) return filled;
        // What it is called is known where it was fetched.
        const record: RecordValue = { kind: 'record', table: parentOf(design, field).id, id: filled.value.id };
        const known = fetched.find((each) => each.table === record.table && each.open.record.id === record.id);
        return known === undefined ? { kind: 'missing', record } : { kind: 'value', value: { ...filled.value, caption: known.open.caption } };
      },
      meets: (owner, of, condition, otherwise) => {
        const met = valueOf(owner, of, condition);
        if (met.kind === 'missing') queueMicrotask(() => fetch(met.record));
        return met.kind === 'value' ? met.value === true : otherwise;
      },
      // The server has just computed everything: to do so again for 1,500 rows would hold up the opening.
      valueOf: (owner, of, field) => (values === null && open !== null ? { kind: 'as_opened' } : valueOf(owner, of, field.expression)),
    };
    return {
      live: now,
      isFalse: (owner: string, of: RecordValue['id'], condition: string): boolean => {
        const met = valueOf(owner, of, condition);
        if (met.kind === 'missing') queueMicrotask(() => fetch(met.record));
        return met.kind === 'value' && met.value === false;
      },
    };
  }, [design, table, open, values, getValues, fetched, fetch, around, language]);
  const broken = useMemo((): string => {
    if (language === null || values === null) return '[]';
    return JSON.stringify([...brokenChecks(design, table.id, open === null, defaultValues as unknown as RecordDraft, values, language, isFalse)]);
  }, [design, table, open, defaultValues, values, language, isFalse]);
  const byPath = useMemo(() => new Map(JSON.parse(broken) as [string, string][]), [broken]);
  useMended(byPath);
  return (
    <LiveContext value={live}>
      <BrokenChecks value={byPath}>{children}</BrokenChecks>
    </LiveContext>
  );
}

/** Takes off the mark that a refused save left on a field, once its check no longer says so: another field of the check can be the one that was mended. */
function useMended(broken: ReadonlyMap<string, string>): void {
  const { clearErrors, getFieldState } = useFormContext<FormValues>();
  const before = useRef(broken);
  useEffect(() => {
    for (const [place, said] of before.current) {
      // The form library spells paths as types.
      const path = place as `own.${string}`;
      if (broken.get(place) !== said && getFieldState(path).error?.message === said) clearErrors(path);
    }
    before.current = broken;
  }, [broken, clearErrors, getFieldState]);
}

/** A stored record as the value of a reference; a record that is not saved yet can't be referred to. */
const referenceTo = (computed: Feel): Value =>
  typeof computed === 'object' && computed !== null && 'kind' in computed && computed.kind === 'record' && typeof computed.id === 'number'
    ? { id: computed.id, caption: '' }
    : null;

/** In milliseconds. */
const pause = 60;
/**
 * What is in the form, each time that typing pauses: working everything out with every key would hold up the keys. Null
 * until something is changed.
 */
function useSettledValues(): RecordDraft | null {
  const { subscribe, getValues } = useFormContext<FormValues>();
  const now = useCallback(() => ({ ...getValues() }), [getValues]);
  const [values, setValues] = useState<RecordDraft | null>(null);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const end = subscribe({
      formState: { values: true },
      callback: () => {
        clearTimeout(timer);
        timer = setTimeout(() => startTransition(() => setValues(now())), pause);
      },
    });
    return () => {
      clearTimeout(timer);
      end();
    };
  }, [subscribe, now]);
  return values;
}

export function useLive(): Live {
  const live = useContext(LiveContext);
  if (live === null) throw new Error('A formula outside of a form');
  return live;
}
