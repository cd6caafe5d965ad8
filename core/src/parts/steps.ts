/** What each kind of step of an automation is in a design: what can be wrong with it, and where it has expressions. */
import { isStored } from '../design/design.js';
import { tableWritten, type Automation, type Recipient, type Step, type StepOf, type StepValue } from '../design/automation.js';
import { mappedText, readText } from '../expression/merge-text.js';
import { labelWritten } from '../expression/rename.js';
import { wants, type Wanted } from '../feel/wants.js';
import { mapped, withParts, type ExpressionPlace, type UncheckedDesign, type Write } from './part.js';
import { repeated } from './repeated.js';
import { wantedValue } from './wanted.js';

/** Where a step is: its automation, and what it is called in sentences. */
interface Around {
  readonly automation: Automation;
  readonly design: UncheckedDesign;
  readonly label: string;
}
/** Makes the place of an expression of the automation. */
export type PlaceMaker = (key: string, label: string, text: string, wanted: Wanted) => ExpressionPlace;

interface StepKind<S> {
  readonly problems: (step: S, around: Around) => readonly string[];
  /** Walks its expressions; the same step when no text changes. */
  readonly expressions: (step: S, around: Around, place: PlaceMaker, write: Write) => S;
}

/** Problems of the values that a step puts into the fields of a table. */
function valueProblems(step: Filling, { automation, design, label }: Around): readonly string[] {
  const problems: string[] = [];
  const written = tableWritten(automation, step);
  const table = design.tables.find((each) => each.id === written);
  if (table === undefined) return [`${label} adds records to a table that no longer exists. Choose another table there first.`];
  const route = design.routes.find((each) => each.table === table.id);
  for (const value of repeated(step.values, (each) => each.field)) {
    const name = table.fields.find((field) => field.id === value.field)?.name ?? value.field;
    problems.push(`${label} fills ${name} twice.`);
  }
  for (const value of step.values) {
    const field = table.fields.find((each) => each.id === value.field);
    if (field === undefined) problems.push(`${label} fills a field of ${table.name} that no longer exists. Take it out there first.`);
    else if (!isStored(field)) problems.push(`${label} fills ${field.name}, which is calculated and can't be filled.`);
    else if (route?.field === field.id) problems.push(`${label} fills ${field.name}, which changes by the moves of its route alone.`);
    else if (value.itself) {
      const parent = design.relationships.find((relationship) => relationship.field === field.id)?.parent;
      if (parent !== automation.table) problems.push(`${label} cannot put this record into ${field.name}: it holds records of another table.`);
    } else if (value.expression.trim() === '') problems.push(`${label} does not say what ${field.name} is filled with.`);
    else if (field.kind === 'choice') {
      const label = labelWritten(value.expression);
      if (label !== null && !field.choices.some((choice) => choice.label === label))
        problems.push(`${label}: “${label}” is none of the choices of ${field.name}.`);
    }
  }
  return problems;
}

type Filling = StepOf<'change' | 'add'>;

const filledExpressions = <S extends Filling>(step: S, { automation, design, label }: Around, place: PlaceMaker, write: Write): S => {
  const table = design.tables.find((each) => each.id === tableWritten(automation, step));
  const ofValue = (value: StepValue): StepValue => {
    const field = table?.fields.find((each) => each.id === value.field);
    if (table === undefined || field === undefined || value.itself || value.expression === '') return value;
    const of = place(`${step.id} ${field.id}`, `the value for ${field.name} in ${label}`, value.expression, wantedValue(design, field));
    return withParts(value, { expression: write({ ...of, fills: { table: table.id, field: field.id } }) });
  };
  return withParts(step, { values: mapped(step.values, ofValue) } as Partial<S>);
};

const stepKinds: { readonly [K in Step['kind']]: StepKind<StepOf<K>> } = {
  change: { problems: valueProblems, expressions: filledExpressions },
  add: { problems: valueProblems, expressions: filledExpressions },
  mail: {
    problems: ({ to, subject, body }, { design, label }) => [
      ...(to.kind === 'role' && !design.roles.some((role) => role.id === to.role)
        ? [`${label} sends mail to a role that no longer exists. Choose another role there first.`]
        : []),
      ...[subject, body].flatMap((text) => {
        const read = readText(text);
        return read.ok ? [] : [`${label}: ${read.problem}`];
      }),
    ],
    expressions: (step, { label }, place, write) => {
      const ofText = (key: string, of: string, text: string): string =>
        mappedText(text, (expression, at) => write(place(`${key} ${at}`, `“{${expression}}” in ${of}`, expression, wants.shown)));
      const ofTo = (to: Recipient): Recipient =>
        to.kind === 'address' ? withParts(to, { expression: write(place(`${step.id} to`, `the address in ${label}`, to.expression, wants.text)) }) : to;
      return withParts(step, {
        to: ofTo(step.to),
        subject: ofText(`${step.id} subject`, `the subject in ${label}`, step.subject),
        body: ofText(`${step.id} body`, `the text in ${label}`, step.body),
      });
    },
  },
};

const kindOfStep = (step: Step): StepKind<Step> => stepKinds[step.kind] as unknown as StepKind<Step>;

export const stepProblems = (step: Step, around: Around): readonly string[] => kindOfStep(step).problems(step, around);
export const writtenStep = (step: Step, around: Around, place: PlaceMaker, write: Write): Step => kindOfStep(step).expressions(step, around, place, write);
