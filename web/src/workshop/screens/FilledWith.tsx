import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { PlusIcon, TrashIcon } from '@phosphor-icons/react';
import { isFillable, relationshipOf, tableOf, wantedValue, type Field, type FormItemOf, type RowFill } from '@bibliona/core';
import { useState } from 'react';
import { useApp } from '../../state/app.js';
import { ExpressionEditor } from '../expression/ExpressionEditor.js';

/** What a field of the form is filled with while one works in it. */
export function FilledWith(props: {
  readonly table: string;
  readonly field: Field;
  readonly value: string;
  readonly label: string;
  readonly onChange: (value: string) => void;
}) {
  const { table, field, value, label, onChange } = props;
  const { design } = useApp();
  return (
    <ExpressionEditor
      label={label}
      value={value}
      onChange={onChange}
      scope={{ design, table }}
      wanted={wantedValue(design, field)}
      hint="Filled each time that something in this formula changes in the form. It can be overwritten."
      optional
      proof={false}
    />
  );
}

/** What columns of the rows are filled with. */
export function RowFills({ item, onChange }: { readonly item: FormItemOf<'children'>; readonly onChange: (item: FormItemOf<'children'>) => void }) {
  const { design } = useApp();
  const { child: id, field: own } = relationshipOf(design, item.relationship);
  const child = tableOf(design, id);
  const { fills = [], ...rest } = item;
  const [isChoosing, setChoosing] = useState(false);
  const set = (next: readonly RowFill[]): void => onChange(next.length === 0 ? rest : { ...rest, fills: next });
  const free = child.fields.filter((field) => isFillable(field) && field.id !== own && !fills.some((fill) => fill.field === field.id));
  // A value that is still empty is not part of the form yet.
  const [begun, setBegun] = useState<Field | null>(null);
  return (
    <>
      {fills.map((fill) => {
        const field = child.fields.find((each) => each.id === fill.field);
        if (field === undefined) return null;
        return (
          <div key={fill.field}>
            <FilledWith
              table={id}
              field={field}
              value={fill.value}
              label={`${field.name} of a row is filled with`}
              onChange={(value) =>
                set(value.trim() === '' ? fills.filter((each) => each !== fill) : fills.map((each) => (each === fill ? { ...each, value } : each)))
              }
            />
            <Button size="small" startIcon={<TrashIcon />} onClick={() => set(fills.filter((each) => each !== fill))}>
              Don&rsquo;t fill {field.name}
            </Button>
          </div>
        );
      })}
      {begun !== null && (
        <FilledWith
          table={id}
          field={begun}
          value=""
          label={`${begun.name} of a row is filled with`}
          onChange={(value) => {
            if (value.trim() === '') return;
            set([...fills, { field: begun.id, value }]);
            setBegun(null);
          }}
        />
      )}
      {begun === null && isChoosing && (
        <TextField
          select
          label="Column to fill"
          value=""
          onChange={(event) => {
            setBegun(free.find((field) => field.id === event.target.value) ?? null);
            setChoosing(false);
          }}
        >
          {free.map((field) => (
            <MenuItem key={field.id} value={field.id}>
              {field.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {begun === null && !isChoosing && free.length > 0 && (
        <Button size="small" startIcon={<PlusIcon />} onClick={() => setChoosing(true)}>
          Fill a column
        </Button>
      )}
    </>
  );
}
