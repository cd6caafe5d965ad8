import type { Form, OpenRecord } from '@bibliona/core';
import { useEffect, useMemo, useRef } from 'react';
import { useFormContext } from 'react-hook-form';
import { useApp, useCircumstances } from '../../state/app.js';
import { useLanguage } from '../../state/language.js';
import { typedOf, type RecordDraft } from './draft.js';
import { canFill, filledBy, fillsOf, isEntered, isSameReading, nameOf, readingIn, readingsOf, withFilled, type Found, type Reading } from './fills.js';
import { useLive } from './live.js';
import type { FormValues } from './form-values.js';

/** So many fills in a row without anybody typing: beyond it two fields fill each other for ever. */
const mostRounds = 20;

/**
 * Fills fields of a form each time that what they are filled from changes in it. What is there when a record is opened, or is
 * restored, stays; in a new record what nobody has entered is filled at once, also over the default of its table.
 */
export function Fills({ form: layout, open, start }: { readonly form: Form; readonly open: OpenRecord | null; readonly start: RecordDraft }) {
  const { design, rights } = useApp();
  const circumstances = useCircumstances();
  const live = useLive();
  const language = useLanguage();
  const { getValues, setValue, subscribe } = useFormContext<FormValues>();
  const fills = useMemo(
    () => (language === null ? null : fillsOf(design, { rights, circumstances }, layout, language)),
    [design, rights, circumstances, layout, language],
  );
  /** What each fill has read last; null: it is taken from `base`. */
  const read = useRef<Map<string, Reading> | null>(null);
  /** What counts as unchanged; null: what is in the form by then. */
  const base = useRef<RecordDraft | null>(start);
  const rounds = useRef(0);
  const isFilling = useRef(false);
  useEffect(
    () =>
      subscribe({
        formState: { values: true },
        callback: ({ name }: { name?: string }) => {
          // Without a name all of it was set at once: discarded, restored or saved.
          if (name === undefined) [read.current, base.current] = [null, null];
          else if (!isFilling.current) rounds.current = 0;
        },
      }),
    [subscribe],
  );
  useEffect(() => {
    // Typing goes on while the language comes: what was typed until then is not missed.
    if (fills === null) return;
    const { draft } = live;
    read.current ??= open === null && base.current !== null ? new Map() : readingsOf(fills, base.current ?? draft, open === null);
    const found: Found[] = [];
    for (const fill of fills) {
      const reading = readingIn(fill, draft);
      for (const record of filledBy(fill, draft, open === null)) {
        const name = nameOf(fill, record);
        const [before, now] = [read.current.get(name), reading(record)];
        if (isSameReading(before, now)) continue;
        if (!canFill(rights, fill, record) || (before === undefined && isEntered(fill, record))) {
          read.current.set(name, now);
          continue;
        }
        const result = live.fill(fill.table, record.of, fill.expression, fill.field);
        // It is filled when the record that it comes from is there.
        if (result.kind === 'missing') live.fetch(result.record);
        if (result.kind === 'missing' || result.kind === 'as_opened') continue;
        read.current.set(name, now);
        if (result.kind !== 'value') continue;
        const typed = typedOf(fill.field, result.value);
        if (JSON.stringify(typed) !== JSON.stringify(record.values[fill.field.id] ?? null)) found.push({ fill, row: record.row, typed });
      }
    }
    if (found.length === 0 || rounds.current >= mostRounds) return;
    rounds.current += 1;
    isFilling.current = true;
    for (const { fill, typed } of found) if (fill.relationship === null) setValue(`own.${fill.field.id}`, typed, { shouldDirty: true });
    for (const relationship of new Set(found.map(({ fill }) => fill.relationship))) {
      if (relationship === null) continue;
      const name = `children.${relationship}` as const;
      const rows = getValues(name);
      const ofRows = found.filter(({ fill }) => fill.relationship === relationship);
      const [only] = ofRows;
      const index = ofRows.length === 1 ? rows.findIndex((row) => row.key === only?.row) : -1;
      // Very many rows are set at once: the form library copies them all each time that it is told of one.
      if (only === undefined || index < 0) setValue(name, withFilled(rows, ofRows), { shouldDirty: true });
      else setValue(`${name}.${index}.values.${only.fill.field.id}`, only.typed, { shouldDirty: true });
    }
    isFilling.current = false;
  }, [live, fills, rights, open, getValues, setValue]);
  return null;
}
