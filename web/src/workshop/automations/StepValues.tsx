import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { XIcon } from '@phosphor-icons/react';
import { fieldOf, tableOf, wantedValue, type Automation, type Field, type StepValue } from '@bibliona/core';
import { useState } from 'react';
import { viewOf } from '../../fields/kinds.js';
import { useApp } from '../../state/app.js';
import { ExpressionEditor } from '../expression/ExpressionEditor.js';
import { fieldsToFill, holdsItself, newValue } from './automation-draft.js';

/** What a step puts into the fields of a table. */
export function StepValues(props: {
  readonly automation: Automation;
  readonly table: string;
  readonly values: readonly StepValue[];
  readonly onChange: (values: readonly StepValue[]) => void;
}) {
  const { automation, values, onChange } = props;
  const { design } = useApp();
  const table = tableOf(design, props.table);
  const free = fieldsToFill(table, design).filter((field) => !values.some((value) => value.field === field.id));
  return (
    <div className="step-values">
      {values.map((value) => {
        const field = table.fields.find((each) => each.id === value.field);
        if (field === undefined) return null;
        return (
          <div className="step-value" key={value.field} role="group" aria-label={field.name}>
            <ValueEditor
              automation={automation}
              field={field}
              value={value}
              onChange={(next) => onChange(values.map((each) => (each === value ? next : each)))}
            />
            <IconButton size="small" aria-label={`Leave ${field.name} out`} onClick={() => onChange(values.filter((each) => each !== value))}>
              <XIcon size={14} />
            </IconButton>
          </div>
        );
      })}
      {free.length > 0 && (
        <TextField
          select
          label="Fill another field"
          value=""
          onChange={(event) => onChange([...values, newValue(fieldOf(table, event.target.value), automation, design)])}
        >
          {free.map((field) => (
            <MenuItem key={field.id} value={field.id}>
              {field.name}
            </MenuItem>
          ))}
        </TextField>
      )}
    </div>
  );
}

interface Given {
  readonly id: string;
  readonly name: string;
  readonly value: Pick<StepValue, 'itself' | 'expression'>;
}

/** Values that can be picked for a field; anything else is an expression. */
function givenFor(field: Field, canBeItself: boolean, called: string): readonly Given[] {
  if (canBeItself) return [{ id: 'itself', name: `this record of ${called}`, value: { itself: true, expression: '' } }];
  return viewOf(field)
    .picks(field)
    .map(({ id, name, expression }) => ({ id, name, value: { itself: false, expression } }));
}

const anExpression = 'expression';

function ValueEditor(props: {
  readonly automation: Automation;
  readonly field: Field;
  readonly value: StepValue;
  readonly onChange: (value: StepValue) => void;
}) {
  const { automation, field, value, onChange } = props;
  const { design } = useApp();
  const given = givenFor(field, holdsItself(field, automation, design), tableOf(design, automation.table).name);
  const known = given.find((each) => each.value.itself === value.itself && each.value.expression === value.expression);
  const [isWritten, setWritten] = useState(known === undefined && (value.expression !== '' || given.length === 0));
  return (
    <div className="grow">
      {given.length > 0 && (
        <TextField
          select
          label={field.name}
          value={isWritten ? anExpression : (known?.id ?? '')}
          onChange={(event) => {
            const picked = given.find((each) => each.id === event.target.value);
            setWritten(picked === undefined);
            onChange({ ...value, ...(picked?.value ?? { itself: false }) });
          }}
        >
          {given.map((each) => (
            <MenuItem key={each.id} value={each.id}>
              {each.name}
            </MenuItem>
          ))}
          <MenuItem value={anExpression}>a formula</MenuItem>
        </TextField>
      )}
      {(isWritten || given.length === 0) && (
        <ExpressionEditor
          label={given.length > 0 ? `${field.name}, formula` : field.name}
          value={value.expression}
          onChange={(expression) => onChange({ ...value, itself: false, expression })}
          scope={{ design, table: automation.table }}
          wanted={wantedValue(design, field)}
          hint={viewOf(field).hint}
          proof={false}
        />
      )}
    </div>
  );
}
