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
  type StepValue,
  type StoredField,
  type Table,
} from '@bibliona/core';

/** What of the automation is chosen, and shown in the details. */
export type Spot = { readonly kind: 'automation' | 'trigger' | 'condition' } | { readonly kind: 'step'; readonly id: string };

export const stepKinds = { change: 'Change this record', add: 'Add a record', mail: 'Send a mail' } as const satisfies Record<Step['kind'], string>;

/** The trigger, as a sentence goes on after "When a record of Lots". */
export function triggerWords(automation: Automation, design: AppDesign): string {
  switch (automation.on) {
    case 'added':
      return 'is added';
    case 'changed': {
      const names = automation.fields.map((id) => tableOf(design, automation.table).fields.find((field) => field.id === id)?.name ?? 'a removed field');
      return names.length === 0 ? 'is changed' : `has another ${orList(names)}`;
    }
    case 'moved': {
      const names = automation.moves.map((id) => routeOf(design, automation.table)?.moves.find((move) => move.id === id)?.name ?? 'a removed move');
      return names.length === 0 ? 'is moved on its route' : `is moved by ${orList(names.map((name) => `“${name}”`))}`;
    }
    default:
      return automation.on satisfies never;
  }
}

const orList = (names: readonly string[]): string => (names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} or ${names.at(-1) ?? ''}`);

/** What a step does, in one line. */
export function stepWords(step: Step, design: AppDesign): string {
  if (step.kind === 'change') return stepKinds.change;
  if (step.kind === 'add') return `Add a record to ${design.tables.find((one) => one.id === step.table)?.name ?? 'a removed table'}`;
  const { to } = step;
  if (to.kind === 'address') return `Send a mail to ${to.expression.trim() === '' ? 'nobody yet' : to.expression}`;
  return `Send a mail to everyone who is ${design.roles.find((role) => role.id === to.role)?.name ?? 'of a removed role'}`;
}

/** What a step puts into a field, as it is written. */
export function valueWords(automation: Automation, step: Step, value: StepValue, design: AppDesign): { readonly name: string; readonly text: string } {
  const table = design.tables.find((one) => one.id === tableWritten(automation, step));
  const name = table?.fields.find((field) => field.id === value.field)?.name ?? 'a removed field';
  return { name, text: value.itself ? `this record of ${tableOf(design, automation.table).name}` : value.expression };
}

/** The fields that a step can fill: what is worked out, and the status of a route, it cannot. */
export function fieldsToFill(table: Table, design: AppDesign): readonly StoredField[] {
  const routed = routeOf(design, table.id)?.field;
  return table.fields.filter((field): field is StoredField => isStored(field) && field.id !== routed);
}

/** Whether the record that sets it off can stand in the field itself. */
export const holdsItself = (field: Field, automation: Automation, design: AppDesign): boolean =>
  field.kind === 'reference' && parentOf(design, field).id === automation.table;

export const newValue = (field: Field, automation: Automation, design: AppDesign): StepValue => ({
  field: field.id,
  itself: holdsItself(field, automation, design),
  expression: '',
});

/** A step of a kind as it begins. */
export function newStep(kind: Step['kind'], id: string, automation: Automation, design: AppDesign): Step {
  switch (kind) {
    case 'change':
      return { kind, id, values: [] };
    case 'add': {
      // Most likely something that belongs to the record.
      const child = design.relationships.find((one) => one.parent === automation.table)?.child;
      return withTable({ kind, id, table: child ?? automation.table, values: [] }, automation, design);
    }
    case 'mail': {
      const [role] = design.roles;
      const caption = tableOf(design, automation.table).name;
      return { kind, id, to: role === undefined ? { kind: 'address', expression: '' } : { kind: 'role', role: role.id }, subject: caption, body: '' };
    }
    default:
      return kind satisfies never;
  }
}

/** A step that adds, begun for its table: with the fields that it cannot do without, and its way back to this record. */
export function withTable(step: Extract<Step, { kind: 'add' }>, automation: Automation, design: AppDesign): Step {
  const fields = fieldsToFill(tableOf(design, step.table), design).filter(
    (field) => (field.required && field.default === null) || holdsItself(field, automation, design),
  );
  return { ...step, values: fields.map((field) => newValue(field, automation, design)) };
}

export const editStep = (automation: Automation, step: Step): Automation => ({
  ...automation,
  steps: automation.steps.map((one) => (one.id === step.id ? step : one)),
});
export const withoutStep = (automation: Automation, id: string): Automation => ({ ...automation, steps: automation.steps.filter((one) => one.id !== id) });

/** The automation with a step one place up or down. */
export function movedStep(automation: Automation, id: string, by: -1 | 1): Automation {
  const at = automation.steps.findIndex((one) => one.id === id);
  const [step, other] = [automation.steps[at], automation.steps[at + by]];
  if (step === undefined || other === undefined) return automation;
  return { ...automation, steps: automation.steps.map((one) => (one === step ? other : one === other ? step : one)) };
}
