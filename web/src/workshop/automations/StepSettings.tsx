import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { wants, type Automation, type StepOf } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { ExpressionEditor } from '../expression/ExpressionEditor.js';
import { TableField } from '../parts/TableField.js';
import { fieldsToFill, withTable } from './automation-draft.js';
import { MergeTextEditor } from './MergeTextEditor.js';
import { StepValues } from './StepValues.js';

export interface SettingsProps<S> {
  readonly automation: Automation;
  readonly step: S;
  readonly onChange: (step: S) => void;
}

export function ChangeSettings({ automation, step, onChange }: SettingsProps<StepOf<'change'>>) {
  return <StepValues automation={automation} table={automation.table} values={step.values} onChange={(values) => onChange({ ...step, values })} />;
}

export function AddSettings({ automation, step, onChange }: SettingsProps<StepOf<'add'>>) {
  const { design } = useApp();
  const isThere = design.tables.some((table) => table.id === step.table);
  return (
    <>
      <TableField
        label="To the table"
        value={isThere ? step.table : ''}
        tables={design.tables.filter((table) => fieldsToFill(table, design).length > 0)}
        onChange={(id) => onChange(withTable({ ...step, table: id }, automation, design))}
      />
      {isThere && <StepValues automation={automation} table={step.table} values={step.values} onChange={(values) => onChange({ ...step, values })} />}
    </>
  );
}

const toAddress = 'address';

export function MailSettings({ automation, step, onChange }: SettingsProps<StepOf<'mail'>>) {
  const { design, me } = useApp();
  const scope = { design, table: automation.table };
  return (
    <>
      <TextField
        select
        label="To"
        value={step.to.kind === 'role' ? step.to.role : toAddress}
        onChange={(event) =>
          onChange({ ...step, to: event.target.value === toAddress ? { kind: 'address', expression: '' } : { kind: 'role', role: event.target.value } })
        }
      >
        {design.roles.map((role) => (
          <MenuItem key={role.id} value={role.id}>
            everyone who is {role.name}
          </MenuItem>
        ))}
        <MenuItem value={toAddress}>an address of the record, or a written one</MenuItem>
      </TextField>
      {step.to.kind === 'address' && (
        <ExpressionEditor
          label="Address"
          value={step.to.expression}
          onChange={(expression) => onChange({ ...step, to: { kind: 'address', expression } })}
          scope={scope}
          wanted={wants.text}
          hint={`A field with an address, or an address in quotes: "${me.Mail}"`}
        />
      )}
      <MergeTextEditor label="Subject" value={step.subject} onChange={(subject) => onChange({ ...step, subject })} scope={scope} />
      <MergeTextEditor label="Text" value={step.body} onChange={(body) => onChange({ ...step, body })} scope={scope} isLong />
      <p className="q sm">
        People of the app see only what they have access to, and get no mail about records they can't see. Any other address gets the full text.
      </p>
    </>
  );
}
