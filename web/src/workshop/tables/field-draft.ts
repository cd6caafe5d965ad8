/** A field as it is in the editor, where everything is as typed, and the way from there to a plan. */
import {
  canRepeat,
  constantDefault,
  FieldPlan,
  fieldKinds,
  parseValue,
  printValue,
  typedValue,
  writtenValue,
  type Field,
  type FieldKind,
  type Relationship,
  type Value,
} from '@bibliona/core';
import { readWhole } from '../../fields/digits.js';
import type { DraftProblem } from '../../fields/kind.js';
import { fieldViews } from '../../fields/kinds.js';
import { TypedStart } from '../../fields/start.js';
import { locale } from '../../state/locale.js';

export interface FieldDraft {
  readonly name: string;
  readonly kind: FieldKind;
  readonly required: boolean;
  readonly unique: boolean;
  readonly description: string;
  readonly placeholder: string;
  /** Of a unique text: whether upper and lower case are the same. */
  readonly anyCase: boolean;
  readonly fixed: boolean;
  readonly startsWithLast: boolean;
  readonly indexed: boolean;
  /** Of its column in lists, in pixels, as typed; empty: as wide as what is in it. */
  readonly listWidth: string;
  /** In the form, in twelfths of a line; null: as it is. */
  readonly formWidth: number | null;
  /** The value that a new record starts with, as typed; a choice by its id. */
  readonly default: string;
  /** When a new record starts with something that is computed: the expression. */
  readonly computed: string | null;
  /** What fields of its kind alone have, as its view edits it. */
  readonly settings: unknown;
  /** Empty: as it is. */
  readonly childrenName: string;
  readonly whenParentRemoved: Relationship['whenParentRemoved'] | null;
  /** Null: as it is. */
  readonly neverOwn: boolean | null;
}

export function draftOfField(field: Field | undefined): FieldDraft {
  const start = field === undefined ? null : constantDefault(field);
  return {
    name: field?.name ?? '',
    kind: field?.kind ?? 'text',
    required: field?.required ?? false,
    unique: field?.unique ?? false,
    description: field?.description ?? '',
    placeholder: field?.placeholder ?? '',
    anyCase: field?.kind === 'text' && field.anyCase === true,
    fixed: field?.fixed ?? false,
    startsWithLast: field?.startsWithLast ?? false,
    indexed: field?.indexed ?? false,
    listWidth: field?.listWidth === undefined ? '' : String(field.listWidth),
    formWidth: null,
    default: field === undefined || start === undefined ? '' : typedDefault(field, start),
    computed: start === undefined ? (field?.default ?? null) : null,
    settings: fieldViews[field?.kind ?? 'text'].settings.start(field),
    childrenName: '',
    whenParentRemoved: null,
    neverOwn: null,
  };
}

function typedDefault(field: Field, value: Value): string {
  const typed = typedValue(field, value, locale());
  return typeof typed === 'string' ? typed : printValue(field, value, locale());
}

export type PlanResult = { readonly ok: true; readonly plan: FieldPlan } | { readonly ok: false; readonly problem: DraftProblem };

/** How wide a column can be, in pixels. */
const [narrowestColumn, widestColumn] = [40, 1200];

const no = (at: string, text: string): PlanResult => ({ ok: false, problem: { at, text } });

/** Whether people enter the values of a kind. */
export const isEntered = (kind: FieldKind): boolean => fieldKinds[kind].column !== null && !('isGiven' in fieldKinds[kind]);
/** Whether a new record can begin with what the person entered last. */
export const canStartWithLast = (field: Pick<FieldDraft, 'kind' | 'unique'>): boolean => isEntered(field.kind) && canRepeat(field);
/** Whether they type them into an input that is empty at first. */
export const takesPlaceholder = (kind: FieldKind): boolean => isEntered(kind) && fieldViews[kind].start?.Input === TypedStart;

export function planOfDraft(draft: FieldDraft, id: string): PlanResult {
  if (draft.name.trim() === '') return no('name', 'Enter a name');
  const { settings, start } = fieldViews[draft.kind];
  const read = settings.read(draft.settings);
  if (!read.ok) return read;
  const { traits } = fieldKinds[draft.kind];
  const listWidth = draft.listWidth.trim() === '' ? undefined : readWhole(draft.listWidth, narrowestColumn, widestColumn);
  if (listWidth === null) return no('listWidth', `A whole number from ${narrowestColumn} to ${widestColumn}`);
  const bare = FieldPlan.safeParse({
    id,
    name: draft.name,
    kind: draft.kind,
    required: isEntered(draft.kind) && draft.required,
    ...(traits.canBeUnique ? { unique: draft.unique } : {}),
    description: draft.description,
    ...(takesPlaceholder(draft.kind) && draft.placeholder.trim() !== '' ? { placeholder: draft.placeholder } : {}),
    ...(draft.kind === 'text' && draft.unique && draft.anyCase ? { anyCase: true } : {}),
    ...(isEntered(draft.kind) && draft.fixed ? { fixed: true } : {}),
    ...(canStartWithLast(draft) && draft.startsWithLast ? { startsWithLast: true } : {}),
    ...(traits.canBeIndexed && draft.indexed ? { indexed: true } : {}),
    ...(listWidth === undefined ? {} : { listWidth }),
    ...read.plan,
    default: null,
  });
  if (!bare.success) return no('name', bare.error.issues[0]?.message ?? 'does not fit');
  if (start === null) return { ok: true, plan: bare.data };
  const withDefault = (value: string | null): PlanResult => ({ ok: true, plan: { ...bare.data, default: value } as FieldPlan });
  if (draft.computed !== null) {
    return draft.computed.trim() === '' ? no('default', 'Write a formula, or choose a value.') : withDefault(draft.computed);
  }
  const typed = (read.startOf ?? ((text: string) => text))(draft.default.trim());
  const word = start.words?.[typed.toLowerCase()];
  if (typed === '' || word !== undefined) return withDefault(word ?? null);
  const parsed = parseValue(bare.data, typed, locale());
  return parsed.ok ? withDefault(writtenValue(bare.data, parsed.value)) : no('default', parsed.problem);
}
