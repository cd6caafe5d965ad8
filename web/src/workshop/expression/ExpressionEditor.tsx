import Button from '@mui/material/Button';
import { EditorState } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { check, describeType, emptiesMet, inWords, type AppPerson, type Problem, type Scope, type Wanted, withoutEmpties } from '@bibliona/core';
import { useEffect, useId, useMemo, useRef, useState } from 'react';
import { Note } from '../../ui/Note.js';
import { ExpressionProof } from './ExpressionProof.js';
import { extensions } from './codemirror.js';
import { locale } from '../../state/locale.js';

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
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const below = useId();
  const onText = useRef(onChange);
  const checked = useMemo(() => (optional && value.trim() === '' ? null : check(value, scope, wanted)), [value, scope, wanted, optional]);
  const problemsOf = useRef<(text: string) => readonly Problem[]>(() => []);
  useEffect(() => {
    onText.current = onChange;
    problemsOf.current = (text) => {
      if (text.trim() === '') return [];
      const result = check(text, scope, wanted);
      return result.ok ? [] : result.problems;
    };
  });
  const { design, table } = scope;
  useEffect(() => {
    if (place.current === null) return undefined;
    const setting = {
      scope: { design, table },
      label,
      describedBy: below,
      problemsOf: (text: string) => problemsOf.current(text),
      onText: (text: string) => onText.current(text),
    };
    const editor = new EditorView({
      parent: place.current,
      state: EditorState.create({ doc: view.current?.state.doc ?? '', extensions: extensions(setting) }),
    });
    view.current = editor;
    return () => editor.destroy();
  }, [design, table, label, below]);
  // What changes the text from outside (rows that were pointed together, a draft that is cancelled) goes into the editor.
  useEffect(() => {
    const editor = view.current;
    if (editor !== null && editor.state.doc.toString() !== value) editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } });
  }, [value, design, table]);
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
      <div className="expression-text" ref={place} />
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
