import { printValue, type Field, type Value } from '@bibliona/core';
import Tooltip from '@mui/material/Tooltip';
import { useEffect } from 'react';
import { useFormContext } from 'react-hook-form';
import { useApp, useRights } from '../../state/app.js';
import { PartSeenNote } from '../../ui/PartSeenNote.js';
import { useLive } from './live.js';
import type { FormValues } from './form-values.js';
import { locale } from '../../state/locale.js';
import { Output } from '../../fields/Output.js';
import { isAlignedRight } from '../../fields/aligned.js';
import { useLanguage } from '../../state/language.js';

/** A worked-out value in the form: it follows what is typed, and says how it comes about. */
export function FormulaValue({
  field,
  table,
  of,
  isInRow,
}: {
  readonly field: Extract<Field, { kind: 'formula' }>;
  readonly table: string;
  readonly of: string;
  readonly isInRow: boolean;
}) {
  const app = useApp();
  const { partial } = useRights(table);
  const { getValues } = useFormContext<FormValues>();
  const live = useLive();
  const result = live.valueOf(table, of, field);
  useEffect(() => {
    if (result.kind === 'missing') live.fetch(result.record);
  });
  const saved = getValues((of === 'own' ? `own.${field.id}` : `children.${of}.values.${field.id}`) as `own.${string}`) as Value | undefined;
  const value = result.kind === 'value' ? result.value : (saved ?? null);
  const text = printValue(field, value === '' ? null : value, locale());
  const none = text !== '' ? null : result.kind === 'after_saving' ? 'after saving' : 'empty';
  return (
    <Output
      field={field}
      isInRow={isInRow}
      isRight={isAlignedRight(app, field)}
      none={none}
      label={(id) => (
        <Tooltip title={<InWords expression={field.expression} table={table} />} describeChild>
          <span className="worked-out-label" id={id} tabIndex={0}>
            {field.name}
          </span>
        </Tooltip>
      )}
      note={partial.includes(field.id) && <PartSeenNote seen="part" className="q sm" />}
    >
      {text}
    </Output>
  );
}

/** Read only when it is asked for: a form with many formulas opens without reading any of them. */
function InWords({ expression, table }: { readonly expression: string; readonly table: string }) {
  const { design } = useApp();
  const language = useLanguage();
  const checked = language?.check(expression, { design, table });
  return checked?.ok === true ? language?.inWords(checked.node, design, locale()) : expression;
}
