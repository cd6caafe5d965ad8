/** How the changes of the demo are written down: a table, a field, a relationship in one line each. */
import type { DesignChange, FieldPlan, SavedQuery, Choice, Tone } from '@bibliona/core';

const common = { description: '', required: false, unique: false, default: null } as const;
/** A label, or one with a colour: "Low: gold". */
const choices = (...labels: readonly string[]): readonly Choice[] =>
  labels.map((said) => {
    const [label = '', tone] = said.split(': ');
    return { id: label.toLowerCase().replaceAll(' ', '_'), label, ...(tone === undefined ? {} : { tone: tone as Tone }) };
  });

export const text = (id: string, name: string, more: Partial<FieldPlan> = {}): FieldPlan => ({ ...common, ...more, kind: 'text', id, name });
export const longText = (id: string, name: string): FieldPlan => ({ ...common, kind: 'long_text', unique: false, id, name });
export const whole = (id: string, name: string, more: Partial<FieldPlan> = {}): FieldPlan => ({ ...common, ...more, kind: 'whole', id, name });
export const date = (id: string, name: string, more: Partial<FieldPlan> = {}): FieldPlan => ({ ...common, ...more, kind: 'date', id, name });

export const mailAddress = (id: string, name: string, more: Partial<FieldPlan> = {}): FieldPlan => ({ ...common, ...more, kind: 'mail_address', id, name });
export const webAddress = (id: string, name: string): FieldPlan => ({ ...common, kind: 'web_address', id, name });
export const phone = (id: string, name: string): FieldPlan => ({ ...common, kind: 'phone', country: 'GB', id, name });
export const address = (id: string, name: string): FieldPlan => ({ ...common, kind: 'address', unique: false, default: null, id, name });
export const place = (id: string, name: string): FieldPlan => ({ ...common, kind: 'place', default: null, id, name });
export const person = (id: string, name: string): FieldPlan => ({ ...common, kind: 'person', unique: false, id, name });
export const signature = (id: string, name: string): FieldPlan => ({ ...common, kind: 'signature', unique: false, default: null, id, name });
export const richText = (id: string, name: string): FieldPlan => ({ ...common, kind: 'rich_text', unique: false, default: null, id, name });
/** Numbers that begin again each year: S-2026-001. */
export const yearlyNumber = (id: string, name: string, pattern: string): FieldPlan => ({
  ...common,
  kind: 'running_number',
  required: false,
  unique: true,
  default: null,
  pattern,
  start: 1,
  step: 1,
  yearly: true,
  id,
  name,
});
export const image = (id: string, name: string): FieldPlan => ({ ...common, kind: 'image', most: 10, largest: 25, id, name });
export const time = (id: string, name: string): FieldPlan => ({ ...common, kind: 'time', id, name });
export const duration = (id: string, name: string): FieldPlan => ({ ...common, kind: 'duration', id, name });

export const formula = (id: string, name: string, expression: string, digits: number | null = null, unit: string | null = null): FieldPlan => ({
  ...common,
  kind: 'formula',
  required: false,
  unique: false,
  id,
  name,
  expression,
  digits,
  unit,
});

export const table = (id: string, name: string, section: string, description: string, fields: FieldPlan[]): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  section,
  description,
  form: `${id}_form`,
  list: `${id}_list`,
  fields,
});

type Side = readonly [table: string, fieldName: string, shownAs: string];
/** Each record of two tables can have several of the other, shown in the forms of both. */
export function link(id: string, name: string, first: Side, second: Side): DesignChange {
  const side = ([table, fieldName, shownAs]: Side) => ({ table, relationship: `${id}_${table}`, shownAs, field: `${id}_${table}_ref`, fieldName });
  return { kind: 'add_link', id, name, form: `fm_${id}`, list: `l_${id}`, together: `u_${id}`, sides: [side(first), side(second)] };
}

export const related = (
  parent: string,
  child: string,
  fieldName: string,
  childrenName: string,
  whenParentRemoved: 'refuse' | 'clear' | 'remove',
  required = true,
): DesignChange => ({
  kind: 'add_relationship',
  id: `${child}_${parent}`,
  parent,
  child,
  fieldId: `${child}_${parent}_ref`,
  fieldName,
  childrenName,
  required,
  whenParentRemoved,
});

export const column = (
  id: string,
  name: string,
  expression: string,
  summary: SavedQuery['columns'][number]['summary'] = null,
  digits: number | null = null,
): SavedQuery['columns'][number] => ({ id, name, expression, summary, digits });

export const decimal = (id: string, name: string, digits: number, more: Partial<FieldPlan> = {}): FieldPlan => ({
  ...common,
  ...more,
  kind: 'decimal',
  digits,
  id,
  name,
});
/** The co-operative counts in pounds. */
export const pounds = 'GBP';
export const money = (id: string, name: string, more: Partial<FieldPlan> = {}): FieldPlan => ({
  ...common,
  ...more,
  kind: 'money',
  currency: pounds,
  id,
  name,
});
export const yesNo = (id: string, name: string, initial: string | null = null): FieldPlan => ({
  ...common,
  kind: 'yes_no',
  unique: false,
  id,
  name,
  default: initial,
});
export const severalChoices = (id: string, name: string, of: readonly string[]): FieldPlan => ({
  ...common,
  kind: 'several_choices',
  unique: false,
  id,
  name,
  default: null,
  choices: choices(...of),
});
export const choice = (id: string, name: string, of: readonly string[], more: Partial<FieldPlan> = {}): FieldPlan => ({
  ...common,
  ...more,
  kind: 'choice',
  unique: false,
  id,
  name,
  choices: choices(...of),
});
/** Bought in several countries. */
export const anyMoney = (id: string, name: string): FieldPlan => ({ ...common, kind: 'any_money', currency: pounds, unique: false, default: null, id, name });
