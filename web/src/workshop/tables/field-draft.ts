/** A field as it stands in the editor, where everything is as typed, and the way from there to a plan. */
import { FieldPlan, freeSlug, parseValue, slugOf, type Choice, type Field, type FieldKind, type Relationship } from '@bibliona/core';

export interface FieldDraft {
  readonly name: string;
  readonly kind: FieldKind;
  readonly required: boolean;
  readonly unique: boolean;
  readonly description: string;
  readonly default: string;
  readonly digits: string;
  readonly choices: readonly Choice[];
  readonly relationship: string | null;
  /** Empty: as it is. */
  readonly childrenName: string;
  readonly whenParentRemoved: Relationship['whenParentRemoved'] | null;
}

export function draftOfField(field: Field | undefined): FieldDraft {
  const start = field?.default ?? null;
  return {
    name: field?.name ?? '',
    kind: field?.kind ?? 'text',
    required: field?.required ?? false,
    unique: field?.unique ?? false,
    description: field?.description ?? '',
    default: start === null ? '' : start === true ? 'yes' : start === false ? 'no' : String(start),
    digits: field?.kind === 'decimal' ? String(field.digits) : '2',
    choices: field?.kind === 'choice' ? field.choices : [],
    relationship: field?.kind === 'reference' ? field.relationship : null,
    childrenName: '',
    whenParentRemoved: null,
  };
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
  if (draft.kind === 'decimal' && !(Number.isInteger(digits) && digits >= 0 && digits <= 12)) return no('digits', 'A whole number from 0 to 12');
  const choices = settled(filled, /^choice_\d+(_\d+)?$/u);
  const common = {
    id,
    name: draft.name,
    kind: draft.kind,
    required: draft.required,
    unique: ['long_text', 'yes_no', 'choice'].includes(draft.kind) ? false : draft.unique,
    description: draft.description,
  };
  const shape = { ...common, digits, choices, relationship: draft.relationship ?? undefined, default: null };
  const bare = FieldPlan.safeParse(shape);
  if (!bare.success) return no('name', bare.error.issues[0]?.message ?? 'does not fit');
  const start = startOf(
    draft,
    bare.data,
    draft.choices.findIndex((choice) => choice.id === draft.default) < 0 ? undefined : choices[filled.findIndex((choice) => choice.id === draft.default)]?.id,
  );
  if (typeof start === 'object' && start !== null) return no('default', start.problem);
  const plan = FieldPlan.safeParse({ ...shape, default: start });
  return plan.success ? { ok: true, plan: plan.data } : no('default', plan.error.issues[0]?.message ?? 'does not fit');
}

function startOf(draft: FieldDraft, plan: FieldPlan, choice: string | undefined): string | number | boolean | null | { readonly problem: string } {
  const typed = draft.default.trim();
  if (typed === '' || plan.kind === 'reference') return null;
  if (plan.kind === 'date' && typed.toLowerCase() === 'today') return 'today';
  if (plan.kind === 'choice') return choice ?? null;
  const parsed = parseValue(plan, typed);
  return parsed.ok ? (parsed.value as string | number | boolean | null) : { problem: parsed.problem };
}
