/** What the screens know of a kind of field. Each kind fills this interface in a file of its own; `kinds.ts` collects them. */
import type { Icon } from '@phosphor-icons/react';
import type { AppDesign, Field, FieldPlan, Table, Typed, Value } from '@bibliona/core';
import type { ComponentType, Ref } from 'react';

export interface FieldInputProps<F extends Field = Field> {
  readonly field: F;
  /** Its place in the form. */
  readonly name: string;
  readonly value: Typed;
  readonly onChange: (value: Typed) => void;
  readonly onBlur: () => void;
  readonly problem: string | undefined;
  /** In a row of a table the column's head is the label. */
  readonly isInRow: boolean;
  readonly inputRef: Ref<HTMLInputElement>;
}

/** What a text field of a form needs to be the input of a field. */
export const shared = ({ field, name, onBlur, problem, isInRow, inputRef }: FieldInputProps) => ({
  name,
  ...(isInRow ? { hiddenLabel: true } : { label: field.name }),
  required: field.required && !isInRow,
  ...(field.placeholder === undefined ? {} : { placeholder: field.placeholder }),
  error: problem !== undefined,
  helperText: problem ?? (isInRow || field.description === '' ? undefined : field.description),
  onBlur,
  inputRef,
});
export const named = ({ field, isInRow }: FieldInputProps) => (isInRow ? { 'aria-label': field.name, 'aria-required': field.required } : {});
export const textOf = (value: Typed): string => (typeof value === 'string' ? value : '');

/** What is wrong with the draft of a field, and at which of its inputs. */
export interface DraftProblem {
  readonly at: string;
  readonly text: string;
}

export interface SettingsProps<S> {
  readonly settings: S;
  readonly onChange: (settings: S) => void;
  readonly table: Table;
  /** The field as it is saved; undefined: a new one. */
  readonly field: Field | undefined;
  readonly problem: DraftProblem | null;
}

/** The settings that fields of one kind alone have, as they are edited. */
export interface KindSettings<S = unknown> {
  readonly start: (field: Field | undefined) => S;
  readonly Editor: ComponentType<SettingsProps<S>> | null;
  /** The settings as the plan of a field has them, or what is wrong with them. */
  readonly read: (
    settings: S,
  ) =>
    | { readonly ok: true; readonly plan: object; /** What a typed default has become with the settings. */ readonly startOf?: (typed: string) => string }
    | { readonly ok: false; readonly problem: DraftProblem };
}
/** Settings are only ever read by the kind that made them. */
export const settingsOf = <S>(settings: KindSettings<S>): KindSettings => settings as unknown as KindSettings;
export const noSettings = settingsOf<null>({ start: () => null, Editor: null, read: () => ({ ok: true, plan: {} }) });

export interface StartProps {
  readonly label: string;
  readonly value: string;
  readonly settings: unknown;
  readonly onChange: (value: string) => void;
  readonly error?: boolean;
  readonly helperText?: string;
}

/** How the value that a new record starts with is entered. */
export interface KindStart {
  readonly Input: ComponentType<StartProps>;
  /** The expression that is offered where it is computed. */
  readonly computed: string;
  /** Words that stand for an expression. */
  readonly words?: Readonly<Record<string, string>>;
}

/** A value that can be picked for a field in place of an expression. */
export interface Pick {
  readonly id: string;
  readonly name: string;
  readonly expression: string;
}

export interface CellEditorProps<F extends Field = Field> {
  readonly field: F;
  readonly value: Typed;
  /** What was typed on the cell and began to edit it. */
  readonly text: string | null;
  readonly onChange: (value: Typed) => void;
  /** A value was picked, which ends the editing. */
  readonly onPick: (value: Typed) => void;
  readonly onCancel: () => void;
}

export interface FieldKindView<F extends Field> {
  readonly Icon: Icon;
  readonly Input: ComponentType<FieldInputProps<F>>;
  /** How a cell of the list is edited; null: it isn't. */
  readonly CellEditor: ComponentType<CellEditorProps<F>> | null;
  /** A value where it is read, if it is more than its text. */
  readonly Shown?: ComponentType<{ readonly field: F; readonly value: Value }>;
  /** How its values are drawn in the proof: as parts of a whole when there are few, else as bars. */
  readonly picture: 'parts' | 'bars';
  /** What the field is, in a word or two, where the kind alone says too little. */
  readonly words?: (field: F, design: AppDesign) => string;
  readonly settings: KindSettings;
  /** Null: new records start without a value. */
  readonly start: KindStart | null;
  readonly picks: (field: F) => readonly Pick[];
  /** The hint where an expression gives the value. */
  readonly hint: string;
  /** Whether a field of another kind can become one of this kind, and this one of another. */
  readonly canConvert: boolean;
}

export type FieldOf<K extends FieldPlan['kind']> = Extract<Field, { kind: K }>;

export const anExpression = 'A value or an expression; null empties it';
export const quotedText = 'Put text in quotes: "checked"';
