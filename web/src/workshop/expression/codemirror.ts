/** The editor component of the code editor library, set up for the expression language at one place of a design. */
import {
  autocompletion,
  closeBrackets,
  closeBracketsKeymap,
  completionKeymap,
  type Completion,
  type CompletionContext,
  type CompletionResult,
} from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { LanguageSupport, LRLanguage, syntaxHighlighting } from '@codemirror/language';
import { linter, type Diagnostic } from '@codemirror/lint';
import type { Extension } from '@codemirror/state';
import { EditorView, keymap } from '@codemirror/view';
import { classHighlighter } from '@lezer/highlight';
import { complete, expressionParser, format, type Completion as Option, type Problem, type Scope } from '@bibliona/core';
import { styleNonce } from '../../ui/nonce.js';

const types: Readonly<Record<Option['kind'], string>> = {
  field: 'property',
  children: 'class',
  part: 'property',
  function: 'function',
  variable: 'variable',
  value: 'constant',
  word: 'keyword',
};

function optionOf(option: Option): Completion {
  const [expression, result] = option.example ?? [];
  return {
    label: option.label,
    apply: option.insert,
    type: types[option.kind],
    detail: option.kind === 'function' ? '' : option.description,
    ...(option.kind === 'function' ? { info: () => explanation(option.description, expression, result) } : {}),
    // What the table itself offers comes before what is always there.
    boost: option.kind === 'word' ? -2 : option.kind === 'function' ? -1 : 1,
  };
}

function explanation(help: string, expression: string | undefined, result: string | undefined): HTMLElement {
  const box = document.createElement('div');
  box.append(help);
  if (expression !== undefined) {
    const example = document.createElement('code');
    example.textContent = `${expression} is ${result ?? ''}`;
    box.append(document.createElement('br'), example);
  }
  return box;
}

const completions =
  (scope: Scope) =>
  ({ state, pos, explicit }: CompletionContext): CompletionResult | null => {
    const { from, options } = complete(state.doc.toString(), pos, scope);
    if (from === pos && !explicit && !/[.([=]\s?$/u.test(state.sliceDoc(Math.max(0, pos - 2), pos))) return null;
    return { from, options: options.map(optionOf), validFor: /^[\p{L}\p{N}_?'"\- ]*$/u };
  };

const diagnostics = (problems: readonly Problem[], length: number): Diagnostic[] =>
  problems.map((problem) => {
    const [from, to] = [Math.min(problem.from, length), Math.min(Math.max(problem.to, problem.from + 1), length)];
    const { fix } = problem;
    return {
      from,
      to,
      severity: 'error',
      message: problem.message,
      ...(fix === undefined
        ? {}
        : {
            actions: [{ name: `Write ${fix}`, apply: (view: EditorView, a: number, b: number) => view.dispatch({ changes: { from: a, to: b, insert: fix } }) }],
          }),
    };
  });

export interface EditorSetting {
  readonly scope: Scope;
  readonly label: string;
  readonly describedBy: string;
  readonly problemsOf: (text: string) => readonly Problem[];
  readonly onText: (text: string) => void;
}

export function extensions({ scope, label, describedBy, problemsOf, onText }: EditorSetting): Extension {
  const language = LRLanguage.define({
    name: 'expression',
    parser: expressionParser(scope),
    languageData: { closeBrackets: { brackets: ['(', '[', '{', '"'] } },
  });
  const tidy = (view: EditorView): boolean => {
    const text = view.state.doc.toString();
    const tidied = format(text, scope);
    if (tidied !== text) view.dispatch({ changes: { from: 0, to: text.length, insert: tidied } });
    return true;
  };
  return [
    EditorView.cspNonce.of(styleNonce),
    new LanguageSupport(language),
    syntaxHighlighting(classHighlighter),
    history(),
    closeBrackets(),
    autocompletion({ override: [completions(scope)], icons: false, interactionDelay: 0 }),
    linter((view) => diagnostics(problemsOf(view.state.doc.toString()), view.state.doc.length), { delay: 700 }),
    EditorView.lineWrapping,
    EditorView.contentAttributes.of({ 'aria-label': label, 'aria-describedby': describedBy, 'aria-multiline': 'true' }),
    EditorView.updateListener.of((update) => {
      if (update.docChanged) onText(update.state.doc.toString());
    }),
    // Tab leaves the editor, as it leaves every other field of a form.
    keymap.of([{ key: 'Shift-Alt-f', run: tidy }, ...closeBracketsKeymap, ...defaultKeymap, ...historyKeymap, ...completionKeymap]),
  ];
}
