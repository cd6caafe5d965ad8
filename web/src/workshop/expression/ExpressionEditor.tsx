import Button from '@mui/material/Button';
import { check, describeType, emptiesMet, inWords, type AppPerson, type Scope, type Wanted, withoutEmpties } from '@bibliona/core';
import { lazy, Suspense, useEffect, useId, useMemo, useState } from 'react';
import { Note } from '../../ui/Note.js';
import { ExpressionProof } from './ExpressionProof.js';
import { locale } from '../../state/locale.js';

// Most of what a station shows has no expression: what one is written with comes with the first.
const ExpressionText = lazy(() => import('./ExpressionText.js'));

interface ExpressionEditorProps {
  readonly label: string;
  /** Whether the label is already above, as that of a group. */
  readonly isLabelled?: boolean;
  readonly value: string;
  readonly onChange: (text: string) => void;
  readonly scope: Scope;
  readonly wanted: Wanted;
  /** Said below while there is nothing else to say. */
  readonly hint?: string;
  /** Whether it can stay empty. */
  readonly optional?: boolean;
  /** A problem found by the server, or by the form around. */
  readonly problem?: string | undefined;
  /** Values for real records beside it. */
  readonly proof?: boolean;
  /** For whom the proof counts. */
  readonly of?: Pick<AppPerson, 'id' | 'name'> | undefined;
}

/** Where expressions are written: coloured, completed, checked while typing, and shown on real records. */
export function ExpressionEditor({
  label,
  isLabelled = false,
  value,
  onChange,
  scope,
  wanted,
  hint,
  optional = false,
  problem,
  proof = true,
  of,
}: ExpressionEditorProps) {
  const below = useId();
  const { design, table } = scope;
  const checked = useMemo(() => (optional && value.trim() === '' ? null : check(value, scope, wanted)), [value, scope, wanted, optional]);
  const isEmpty = value.trim() === '';
  const isSettled = useSettled(value);
  const found = problem ?? (checked?.ok === false && !isEmpty && isSettled ? checked.problems[0]?.message : undefined);
  const fix = checked?.ok === false ? checked.problems[0] : undefined;
  return (
    <div className={`expression ${found === undefined ? '' : 'bad'}`}>
      {!isLabelled && (
        <span className="expression-label" aria-hidden>
          {label}
        </span>
      )}
      <Suspense fallback={<div className="expression-text">{value}</div>}>
        <ExpressionText label={label} below={below} value={value} onChange={onChange} scope={scope} wanted={wanted} />
      </Suspense>
      <div className="expression-below" id={below} role="status">
        {found !== undefined ? (
          <span className="expression-problem">
            {found}
            {fix?.fix !== undefined && problem === undefined && (
              <Button size="small" className="go" onClick={() => onChange(value.slice(0, fix.from) + (fix.fix ?? '') + value.slice(fix.to))}>
                Write {fix.fix}
              </Button>
            )}
          </span>
        ) : checked?.ok === true ? (
          <span className="q">
            {inWords(checked.node, design, locale())}: {describeType(checked.node.type, design)}
          </span>
        ) : (
          <span className="q">{hint}</span>
        )}
      </div>
      {checked?.ok === true && found === undefined && <EmptiesNote text={value} met={emptiesMet(checked.node)} onChange={onChange} />}
      {proof && table !== null && checked?.ok === true && !isEmpty && <ExpressionProof table={table} text={value} of={of} />}
    </div>
  );
}

/** Says that one empty value empties the whole sum, and offers to leave empty values out. */
function EmptiesNote({
  text,
  met,
  onChange,
}: {
  readonly text: string;
  readonly met: ReturnType<typeof emptiesMet>;
  readonly onChange: (text: string) => void;
}) {
  const [first] = met;
  if (first === undefined) return null;
  return (
    <Note
      kind="look"
      action={
        <Button size="small" onClick={() => onChange(withoutEmpties(text, met))}>
          Leave empty values out
        </Button>
      }
    >
      {first.field.name} can be empty. If it is empty in one record, {first.summary}() gives nothing.
    </Note>
  );
}

const settlesAfter = 700;
/** Whether a text has stood unchanged for a moment: half a word is no mistake yet. */
function useSettled(text: string): boolean {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), settlesAfter);
    return () => clearTimeout(timer);
  }, [text]);
  return settled === text;
}
