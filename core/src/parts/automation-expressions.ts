/** Where expressions stand in automations. */
import { renamedText, readText } from '../expression/merge-text.js';
import { renamed, renamedLabel } from '../expression/rename.js';
import { type Scope } from '../expression/scope.js';
import { wants, type Wanted } from '../feel/wants.js';
import type { Automation, Recipient, Step, StepValue } from '../design/automation.js';
import type { AppDesign } from '../design/design.js';
import type { ExpressionPlace } from './expressions.js';
import { wantedValue } from './wanted.js';

/** The table whose records a step writes; null: it writes none. */
export const tableWritten = (automation: Pick<Automation, 'table'>, step: Step): string | null =>
  step.kind === 'change' ? automation.table : step.kind === 'add' ? step.table : null;

/** The expressions of an automation, in a design of which every name resolves. */
export function automationPlaces(automation: Automation, design: AppDesign): readonly ExpressionPlace[] {
  const within = `the automation ${automation.name}`;
  const place = (says: string, text: string, wanted: Wanted): ExpressionPlace => ({
    says: `${says} of ${within}`,
    text,
    table: automation.table,
    wanted,
    owner: { kind: 'automation', id: automation.id },
  });
  const ofText = (says: string, text: string): readonly ExpressionPlace[] => {
    const read = readText(text);
    return read.ok
      ? read.pieces.filter((piece) => piece.kind === 'expression').map((piece) => place(`“{${piece.text}}” in ${says}`, piece.text, wants.shown))
      : [];
  };
  const ofStep = (step: Step, at: number): readonly ExpressionPlace[] => {
    const nth = `step ${at + 1}`;
    if (step.kind === 'mail') {
      const to = step.to.kind === 'address' ? [place(`the address in ${nth}`, step.to.expression, wants.text)] : [];
      return [...to, ...ofText(`the subject in ${nth}`, step.subject), ...ofText(`the text in ${nth}`, step.body)];
    }
    const fields = design.tables.find((one) => one.id === tableWritten(automation, step))?.fields ?? [];
    return step.values.flatMap((value) => {
      const field = fields.find((one) => one.id === value.field);
      return field === undefined || value.itself ? [] : [place(`the value for ${field.name} in ${nth}`, value.expression, wantedValue(design, field))];
    });
  };
  const condition = automation.condition === '' ? [] : [place('the condition', automation.condition, wants.truth)];
  return [...condition, ...automation.steps.flatMap(ofStep)];
}

/** The automation with its expressions as they have to be written in the design `after`. */
export function renamedAutomation(automation: Automation, before: AppDesign, after: AppDesign): Automation {
  const scope: Scope = { design: before, table: automation.table };
  const again = (text: string): string => (text === '' ? text : renamed(text, scope, after));
  const valueNow = (value: StepValue, table: string): StepValue => {
    const expression = renamedLabel(again(value.expression), { table, field: value.field }, before, after);
    return expression === value.expression ? value : { ...value, expression };
  };
  const toNow = (to: Recipient): Recipient => (to.kind === 'address' ? { ...to, expression: again(to.expression) } : to);
  const stepNow = (step: Step): Step =>
    step.kind === 'mail'
      ? { ...step, to: toNow(step.to), subject: renamedText(step.subject, scope, after), body: renamedText(step.body, scope, after) }
      : { ...step, values: step.values.map((value) => valueNow(value, tableWritten(automation, step) ?? '')) };
  const now: Automation = { ...automation, condition: again(automation.condition), steps: automation.steps.map(stepNow) };
  return JSON.stringify(now) === JSON.stringify(automation) ? automation : now;
}
