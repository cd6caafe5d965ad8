import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { Table } from '@bibliona/core';

/** One of some tables. */
export function TableField(props: {
  readonly label: string;
  /** Its id; empty: none yet. */
  readonly value: string;
  readonly tables: readonly Table[];
  readonly onChange: (table: string) => void;
}) {
  const { label, value, tables, onChange } = props;
  return (
    <TextField select label={label} value={value} onChange={(event) => onChange(event.target.value)}>
      {tables.map((table) => (
        <MenuItem key={table.id} value={table.id}>
          {table.name}
        </MenuItem>
      ))}
    </TextField>
  );
}
