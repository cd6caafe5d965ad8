/** What automations do: which are triggered by what happens to a record, what they ask of it, and what comes of each step. */
import { z } from 'zod';
import type { Automation, Recipient, Step, StepOf, StepValue } from '../design/automation.js';
import { tableWritten } from '../design/automation.js';
import type { AppDesign, Field } from '../design/design.js';
import { fieldOf, tableOf } from '../design/read.js';
import { valueFor } from '../expression/bring.js';
import { check } from '../expression/check.js';
import { filledIn, nodesOfText } from '../expression/merge-text.js';
import { membersOf } from '../expression/names.js';
import type { Node } from '../expression/node.js';
import { Decimal } from '../feel/value.js';
import type { AskedQuery } from '../query/saved.js';
import { stored } from '../record/check.js';
import { unitOf } from '../expression/unit.js';
import { printTyped } from '../fields/computed.js';
import { kindOf } from '../fields/kinds.js';
import { isReference, written, type Value } from '../fields/value.js';
import type { Locale } from '../values/locale.js';
import { wants } from '../feel/wants.js';

/** What a save has done to one record. */
export interface RecordEvent {
  readonly kind: 'added' | 'changed' | 'moved' | 'started';
  readonly table: string;
  readonly id: number;
  /** The fields that have another value than before. */
  readonly fields: readonly string[];
  /** The move that was made. */
  readonly move: string | null;
  /** The automation that somebody started. */
  readonly started?: string;
}

function isSetOff(automation: Automation, event: RecordEvent): boolean {
  if (!automation.isOn || automation.table !== event.table) return false;
  switch (automation.on) {
    case 'added':
      return event.kind === 'added';
    case 'changed':
      return event.kind !== 'added' && event.fields.some((field) => automation.fields.length === 0 || automation.fields.includes(field));
    case 'moved':
      return event.move !== null && (automation.moves.length === 0 || automation.moves.includes(event.move));
    case 'started':
      return event.started === automation.id;
    default:
      return automation.on satisfies never;
  }
}

/** Whether someone can start an automation by hand for records that they see. */
export function mayStart(automation: Automation, person: { readonly role: string | null; readonly roles: readonly string[] }): boolean {
  if (!automation.isOn || automation.on !== 'started') return false;
  const { startedBy } = automation;
  return person.role === 'builder' || (person.role === 'member' && (startedBy === undefined || startedBy.some((role) => person.roles.includes(role))));
}

/** The automations that an event triggers, in the order of the design; whether their conditions are met is asked of the record. */
export const setOffBy = (design: AppDesign, event: RecordEvent): readonly Automation[] =>
  design.automations.filter((automation) => isSetOff(automation, event));

function nodeOf(text: string, design: AppDesign, table: string): Node {
  const checked = check(text, { design, table }, wants.anything);
  if (!checked.ok) throw new TypeError(`An expression of the design cannot be read: ${text}`);
  return checked.node;
}

/** The condition of an automation; null: none. */
export const conditionOf = (automation: Automation, design: AppDesign): Node | null =>
  automation.condition.trim() === '' ? null : nodeOf(automation.condition, design, automation.table);

/** What a field of the record holds, as an expression. */
function heldIn(design: AppDesign, table: string, field: string): Node {
  const member = membersOf(design, table).find((each) => each.kind === 'field' && each.field.id === field);
  return nodeOf(member?.name ?? '', design, table);
}

const nodesOfLetter = ({ table }: Automation, step: MailStep, design: AppDesign): readonly Node[] => [
  ...nodesOfText(step.subject, design, table),
  ...nodesOfText(step.body, design, table),
];

interface StepWork<S> {
  /** What it asks of the record that triggered it. */
  readonly asks: (automation: Automation, step: S, design: AppDesign) => readonly Node[];
  /** What it comes to; `answers` are those to its questions, in their order. */
  readonly effect: (automation: Automation, step: S, of: Answered) => StepEffect;
}
interface Answered {
  /** The record that triggered it. */
  readonly id: number;
  readonly answers: readonly Value[];
  readonly design: AppDesign;
  readonly locale: Locale;
}

const askedOfValue = (value: StepValue, automation: Automation, design: AppDesign): readonly Node[] =>
  value.itself ? [] : [nodeOf(value.expression, design, automation.table)];

const stepWorks: { readonly [K in Step['kind']]: StepWork<StepOf<K>> } = {
  change: {
    asks: (automation, step, design) =>
      step.values.flatMap((value) => [...askedOfValue(value, automation, design), heldIn(design, automation.table, value.field)]),
    effect: (automation, step, of) => filled(automation, step, of, (before, after, field) => !kindOf(field).value.same(after, heldBy(field, before))),
  },
  add: {
    asks: (automation, step, design) => step.values.flatMap((value) => askedOfValue(value, automation, design)),
    effect: (automation, step, of) => filled(automation, step, of, null),
  },
  mail: {
    asks: (automation, step, design) => [
      ...(step.to.kind === 'address' ? [nodeOf(step.to.expression, design, automation.table)] : []),
      ...nodesOfLetter(automation, step, design),
    ],
    effect: (automation, step, { answers, design, locale }) => {
      const isWritten = step.to.kind === 'address';
      const to = step.to.kind === 'address' ? addressesIn(String(answers[0] ?? '')) : step.to;
      return { kind: 'mail', step, to, letter: letterOf(automation, step, answers.slice(isWritten ? 1 : 0), design, locale) };
    },
  },
};
const workOf = (step: Step): StepWork<Step> => stepWorks[step.kind] as unknown as StepWork<Step>;

/**
 * The values that a step puts into fields. `differs` tells whether a field gets another value than it holds, which it is then
 * asked for too; null: there is no record yet.
 */
function filled(
  automation: Automation,
  step: StepOf<'change' | 'add'>,
  { id, answers, design }: Answered,
  differs: ((before: Value, after: Value, field: Field) => boolean) | null,
): StepEffect {
  let at = 0;
  const next = (): Value => {
    if (at >= answers.length) throw new TypeError('A step has fewer answers than questions');
    return answers[at++] ?? null;
  };
  const table = tableOf(design, tableWritten(automation, step) ?? '');
  const itself: Value = { id, caption: '' };
  const fields = step.values.flatMap((value): (FieldEffect & { readonly value: Value })[] => {
    const field = fieldOf(table, value.field);
    const after = value.itself ? itself : next();
    const before = differs === null ? null : next();
    const held = heldBy(field, after);
    return differs !== null && !differs(before, held, field) ? [] : [{ field: field.id, before, after, value: held }];
  });
  return {
    kind: step.kind,
    table: table.id,
    values: Object.fromEntries(fields.map((field) => [field.field, field.value])),
    fields: fields.map(({ field, before, after }) => ({ field, before, after })),
  };
}

type MailStep = StepOf<'mail'>;

/** The question of a step to the record, after that of its condition when there is one. One row of cells comes back. */
export function askedOf(automation: Automation, step: Step | undefined, condition: Node | null, id: number, design: AppDesign): AskedQuery {
  return questionOf(automation, [...(condition === null ? [] : [condition]), ...(step === undefined ? [] : workOf(step).asks(automation, step, design))], id);
}

/** What the text of a mail asks of the record, for one of its readers. */
export const askedByLetter = (automation: Automation, step: MailStep, id: number, design: AppDesign): AskedQuery =>
  questionOf(automation, nodesOfLetter(automation, step, design), id);

function questionOf({ table }: Automation, nodes: readonly Node[], id: number): AskedQuery {
  const columns = nodes.map((node, i) => ({ id: `n${i}`, node, summary: null }));
  return { table, where: { kind: 'ids', ids: [id] }, columns, order: [], limit: null, steps: [] };
}

/** What a step does to one field, as it is shown and kept in the log. */
export interface FieldEffect {
  readonly field: string;
  readonly before: Value;
  readonly after: Value;
}
export type StepEffect =
  | { readonly kind: 'change' | 'add'; readonly table: string; readonly values: Readonly<Record<string, Value>>; readonly fields: readonly FieldEffect[] }
  | {
      readonly kind: 'mail';
      readonly step: MailStep;
      readonly to: Exclude<Recipient, { kind: 'address' }> | readonly string[];
      /** As somebody reads it from whom nothing is withheld. */
      readonly letter: Letter;
    };

/** A mail as one of its readers gets it. */
export interface Letter {
  readonly subject: string;
  readonly body: string;
}

/** With how many digits after the point a field is printed; null: with as many as there are. */
const digitsOf = (node: Node): number | null => (node.kind === 'field' || node.kind === 'formula' ? kindOf(node.field).digits(node.field) : null);

const longestSubject = 300;

/** What a step comes to, given what the record answered. A change leaves out the fields that hold their values already. */
export const effectOf = (automation: Automation, step: Step, id: number, answers: readonly Value[], design: AppDesign, locale: Locale): StepEffect =>
  workOf(step).effect(automation, step, { id, answers, design, locale });

/** The text of a mail, given what the record answered to it. */
export function letterOf(automation: Automation, step: MailStep, answers: readonly Value[], design: AppDesign, locale: Locale): Letter {
  const printed = nodesOfLetter(automation, step, design).map((node, i) =>
    printTyped({ type: node.type.kind, digits: digitsOf(node), unit: unitOf(node) }, answers[i] ?? null, locale),
  );
  const inSubject = nodesOfText(step.subject, design, automation.table).length;
  const subject = filledIn(step.subject, printed.slice(0, inSubject)).replace(/\s+/gu, ' ').trim().slice(0, longestSubject);
  return { subject, body: filledIn(step.body, printed.slice(inSubject)) };
}

/** A value as it travels in the form in which a field holds it; one that does not fit stays as it is, and is told of when it is checked. */
function heldBy(field: Field, value: Value): Value {
  if (isReference(value) || value === null) return written(value);
  const type = kindOf(field).feel.type(field, '')?.kind;
  // Numbers travel as their digits, choices as their labels.
  if (type === 'number' && typeof value === 'string' && /^-?\d+(?:\.\d+)?$/u.test(value)) return valueFor(field, new Decimal(value)) ?? value;
  if (type === 'choice' && typeof value === 'string') return valueFor(field, value) ?? value;
  return stored(field, value);
}

/** The addresses in a text: several are separated by commas, semicolons or line ends. */
export const addressesIn = (text: string): readonly string[] => [
  ...new Set(
    text
      .split(/[,;\n]/u)
      .map((each) => each.trim())
      .filter((each) => each !== ''),
  ),
];

export const isAddress = (text: string): boolean => z.email().max(200).safeParse(text).success;
