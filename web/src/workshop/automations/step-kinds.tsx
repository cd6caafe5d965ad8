/** The kinds of step as the Workshop shows them: one row here for each. */
import { tableOf, type AppDesign, type Automation, type Step, type StepOf } from '@bibliona/core';
import type { ComponentType } from 'react';
import { useApp } from '../../state/app.js';
import { valueWords, withTable } from './automation-draft.js';
import { AddSettings, ChangeSettings, MailSettings, type SettingsProps } from './StepSettings.js';

interface StepLook<S> {
  /** What it is called where it is added. */
  readonly name: string;
  /** What it does, in one line. */
  readonly words: (step: S, design: AppDesign) => string;
  readonly begins: (id: string, automation: Automation, design: AppDesign) => S;
  readonly Settings: ComponentType<SettingsProps<S>>;
  /** What is below its line on the sheet. */
  readonly Lines: ComponentType<{ readonly automation: Automation; readonly step: S }>;
}

function ValueLines({ automation, step }: { readonly automation: Automation; readonly step: StepOf<'change' | 'add'> }) {
  const { design } = useApp();
  if (step.values.length === 0) return <em className="none">no field yet</em>;
  return step.values.map((value) => {
    const { name, text } = valueWords(automation, step, value, design);
    return (
      <span className="automation-line" key={value.field}>
        <span>{name}</span>
        {value.itself ? <span className="q el">{text}</span> : <code className="el">{text.trim() === '' ? '…' : text}</code>}
      </span>
    );
  });
}

const SubjectLine = ({ step }: { readonly step: StepOf<'mail'> }) => (
  <span className="automation-line">
    <span className="el">{step.subject.trim() === '' ? <em className="none">without a subject</em> : step.subject}</span>
  </span>
);

const stepKinds: { readonly [K in Step['kind']]: StepLook<StepOf<K>> } = {
  change: {
    name: 'Change this record',
    words: () => 'Change this record',
    begins: (id) => ({ kind: 'change', id, values: [] }),
    Settings: ChangeSettings,
    Lines: ValueLines,
  },
  add: {
    name: 'Add a record',
    words: (step, design) => `Add a record to ${design.tables.find((table) => table.id === step.table)?.name ?? 'a removed table'}`,
    // Most likely something that belongs to the record.
    begins: (id, automation, design) => {
      const child = design.relationships.find((relationship) => relationship.parent === automation.table)?.child;
      return withTable({ kind: 'add', id, table: child ?? automation.table, values: [] }, automation, design);
    },
    Settings: AddSettings,
    Lines: ValueLines,
  },
  mail: {
    name: 'Send a mail',
    words: ({ to }, design) =>
      to.kind === 'address'
        ? `Send a mail to ${to.expression.trim() === '' ? 'nobody yet' : to.expression}`
        : `Send a mail to everyone who is ${design.roles.find((role) => role.id === to.role)?.name ?? 'of a removed role'}`,
    begins: (id, automation, design) => {
      const [role] = design.roles;
      const subject = tableOf(design, automation.table).name;
      return { kind: 'mail', id, to: role === undefined ? { kind: 'address', expression: '' } : { kind: 'role', role: role.id }, subject, body: '' };
    },
    Settings: MailSettings,
    Lines: SubjectLine,
  },
};

export const stepNames = Object.keys(stepKinds) as readonly Step['kind'][];
/** The row of a kind, for steps of which only that they are steps is known. */
export const stepKind = (kind: Step['kind']): StepLook<Step> => stepKinds[kind] as unknown as StepLook<Step>;
