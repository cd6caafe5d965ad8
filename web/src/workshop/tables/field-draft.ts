/** A field as it stands in the editor, where everything is as typed, and the way from there to a plan. */
import {
  constantDefault,
  FieldPlan,
  freeSlug,
  kinds,
  Label,
  parseValue,
  slugOf,
  writtenValue,
  type Choice,
  type Field,
  type FieldKind,
  type Relationship,
  type Value,
} from '@bibliona/core';

export interface FieldDraft {
  readonly name: string;
  readonly kind: FieldKind;
  readonly required: boolean;
  readonly unique: boolean;
  readonly description: string;
  /** The value that a new record starts with, as typed; a choice by its id. */
  readonly default: string;
  /** When a new record starts with something that is worked out: the expression. */
  readonly computed: string | null;
  readonly expression: string;
  readonly digits: string;
  readonly choices: readonly Choice[];
  readonly relationship: string | null;
  /** Empty: as it is. */
  readonly childrenName: string;
  readonly whenParentRemoved: Relationship['whenParentRemoved'] | null;
}

export function draftOfField(field: Field | undefined): FieldDraft {
  const start = field === undefined ? null : constantDefault(field);
  return {
    name: field?.name ?? '',
    kind: field?.kind ?? 'text',
    required: field?.required ?? false,
    unique: field?.unique ?? false,
    description: field?.description ?? '',
    default: field === undefined || start === undefined ? '' : typedDefault(field, start),
    computed: start === undefined ? (field?.default ?? null) : null,
    expression: field?.kind === 'formula' ? field.expression : '',
    digits: field?.kind === 'decimal' ? String(field.digits) : field?.kind === 'formula' ? String(field.digits ?? '') : '2',
    choices: field?.kind === 'choice' ? field.choices : [],
    relationship: field?.kind === 'reference' ? field.relationship : null,
    childrenName: '',
    whenParentRemoved: null,
  };
}

const typedDefault = (field: Field, value: Value): string =>
  value === null ? '' : field.kind === 'choice' || field.kind === 'text' || field.kind === 'long_text' ? String(value) : kinds[field.kind].print(value, field);

/** Choices for values that a field holds; what is too long for one, or has signs that no label has, is left out. */
export function choicesOf(values: readonly string[]): readonly Choice[] {
  const choices: Choice[] = [];
  for (const label of values) {
    const id = freeSlug(
      label,
      choices.map((one) => one.id),
    );
    if (Label.safeParse(label).success) choices.push({ id, label });
  }
  return choices;
}

export type PlanResult =
  { readonly ok: true; readonly plan: FieldPlan } | { readonly ok: false; readonly problem: { readonly at: string; readonly text: string } };

const no = (at: string, text: string): PlanResult => ({ ok: false, problem: { at, text } });

/** New choices take the name that SQL sees from their label, once; renaming a choice later keeps it. */
function settled(choices: readonly Choice[], draftIds: RegExp): Choice[] {
  const taken: string[] = [];
  return choices.map((choice) => {
    const id =
      draftIds.test(choice.id) && slugOf(choice.label) !== choice.id
        ? freeSlug(choice.label, [...taken, ...choices.filter((one) => one !== choice).map((one) => one.id)])
        : choice.id;
    taken.push(id);
    return { id, label: choice.label };
  });
}

export function planOfDraft(draft: FieldDraft, id: string): PlanResult {
  if (draft.name.trim() === '') return no('name', 'Give it a name');
  const filled = draft.choices.filter((choice) => choice.label.trim() !== '');
  if (draft.kind === 'choice' && filled.length === 0) return no('choices', 'Add at least one choice.');
  const digits = Number(draft.digits);
  const fits = Number.isInteger(digits) && digits >= 0 && digits <= 12;
  if (draft.kind === 'decimal' && !fits) return no('digits', 'A whole number from 0 to 12');
  if (draft.kind === 'formula' && draft.digits.trim() !== '' && !fits) return no('digits', 'A whole number from 0 to 12, or nothing');
  if (draft.kind === 'formula' && draft.expression.trim() === '') return no('expression', 'Write how it is worked out.');
  const choices = settled(filled, /^choice_\d+(_\d+)?$/u);
  const common = {
    id,
    name: draft.name,
    kind: draft.kind,
    required: draft.kind === 'formula' ? false : draft.required,
    unique: ['long_text', 'yes_no', 'choice', 'formula'].includes(draft.kind) ? false : draft.unique,
    description: draft.description,
  };
  const shape = {
    ...common,
    digits: draft.kind === 'formula' && draft.digits.trim() === '' ? null : digits,
    choices,
    relationship: draft.relationship ?? undefined,
    expression: draft.expression,
    default: null,
  };
  const bare = FieldPlan.safeParse(shape);
  if (!bare.success) return no('name', bare.error.issues[0]?.message ?? 'does not fit');
  if (bare.data.kind === 'formula' || bare.data.kind === 'reference') return { ok: true, plan: bare.data };
  if (draft.computed !== null) {
    if (draft.computed.trim() === '') return no('default', 'Write how it is worked out, or choose a value.');
    return { ok: true, plan: { ...bare.data, default: draft.computed } };
  }
  const start = startOf(
    draft,
    bare.data,
    draft.choices.findIndex((choice) => choice.id === draft.default) < 0 ? undefined : choices[filled.findIndex((choice) => choice.id === draft.default)]?.id,
  );
  if (typeof start === 'object' && start !== null) return no('default', start.problem);
  return { ok: true, plan: { ...bare.data, default: start } };
}

/** The typed start of a new record as the language writes it. */
function startOf(draft: FieldDraft, plan: FieldPlan, choice: string | undefined): string | null | { readonly problem: string } {
  const typed = draft.default.trim();
  if (typed === '') return null;
  if (plan.kind === 'date' && typed.toLowerCase() === 'today') return 'today()';
  if (plan.kind === 'choice') return writtenValue(plan, choice ?? null);
  const parsed = parseValue(plan, typed);
  return parsed.ok ? writtenValue(plan, parsed.value) : { problem: parsed.problem };
}
