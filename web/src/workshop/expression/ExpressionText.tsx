import { EditorState } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { check, type Problem, type Scope, type Wanted } from '@bibliona/core';
import { useEffect, useRef } from 'react';
import { extensions } from './codemirror.js';

interface ExpressionTextProps {
  readonly label: string;
  /** The id of what describes it. */
  readonly below: string;
  readonly value: string;
  readonly onChange: (text: string) => void;
  readonly scope: Scope;
  readonly wanted: Wanted;
}

/** The text of an expression: coloured, completed, and underlined where it is wrong. */
export default function ExpressionText({ label, below, value, onChange, scope, wanted }: ExpressionTextProps) {
  const frame = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const onText = useRef(onChange);
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
    if (frame.current === null) return undefined;
    const setting = {
      scope: { design, table },
      label,
      describedBy: below,
      problemsOf: (text: string) => problemsOf.current(text),
      onText: (text: string) => onText.current(text),
    };
    const editor = new EditorView({
      parent: frame.current,
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
  return <div className="expression-text" ref={frame} />;
}
