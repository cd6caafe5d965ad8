/** An automation while it is being written: what stands where, in words. */
import {
  isStored,
  parentOf,
  routeOf,
  tableOf,
  tableWritten,
  type AppDesign,
  type Automation,
  type Field,
  type Step,
  type StepOf,
  type StepValue,
  type StoredField,
  type Table,
} from '@bibliona/core';

/** What of the automation is chosen, and shown in the details. */
export type Spot = { readonly kind: 'automation' | 'trigger' | 'condition' } | { readonly kind: 'step'; readonly id: string };

/** What a step puts into a field, as it is written. */
export function valueWords(automation: Automation, step: Step, value: StepValue, design: AppDesign): { readonly name: string; readonly text: string } {
  const table = design.tables.find((each) => each.id === tableWritten(automation, step));
  const name = table?.fields.find((field) => field.id === value.field)?.name ?? 'a removed field';
  return { name, text: value.itself ? `this record of ${tableOf(design, automation.table).name}` : value.expression };
}

/** The fields that a step can fill: what is computed, and the status of a route, it cannot. */
export function fieldsToFill(table: Table, design: AppDesign): readonly StoredField[] {
  const routed = routeOf(design, table.id)?.field;
  return table.fields.filter((field): field is StoredField => isStored(field) && field.id !== routed);
}

/** Whether the record that triggers it can be in the field itself. */
export const holdsItself = (field: Field, automation: Automation, design: AppDesign): boolean =>
  field.kind === 'reference' && parentOf(design, field).id === automation.table;

export const newValue = (field: Field, automation: Automation, design: AppDesign): StepValue => ({
  field: field.id,
  itself: holdsItself(field, automation, design),
  expression: '',
});

/** A step that adds, begun for its table: with the fields that it cannot do without, and its way back to this record. */
export function withTable(step: StepOf<'add'>, automation: Automation, design: AppDesign): StepOf<'add'> {
  const fields = fieldsToFill(tableOf(design, step.table), design).filter(
    (field) => (field.required && field.default === null) || holdsItself(field, automation, design),
  );
  return { ...step, values: fields.map((field) => newValue(field, automation, design)) };
}

export const editStep = (automation: Automation, step: Step): Automation => ({
  ...automation,
  steps: automation.steps.map((each) => (each.id === step.id ? step : each)),
});
export const withoutStep = (automation: Automation, id: string): Automation => ({ ...automation, steps: automation.steps.filter((step) => step.id !== id) });

/** The automation with a step one place up or down. */
export function movedStep(automation: Automation, id: string, by: -1 | 1): Automation {
  const at = automation.steps.findIndex((each) => each.id === id);
  const [step, other] = [automation.steps[at], automation.steps[at + by]];
  if (step === undefined || other === undefined) return automation;
  return { ...automation, steps: automation.steps.map((each) => (each === step ? other : each === other ? step : each)) };
}
