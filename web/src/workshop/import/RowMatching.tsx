import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { rowModes, type Matching, type Table } from '@bibliona/core';

const modeNames: Readonly<Record<Matching['mode'], string>> = {
  add: 'Add every row',
  both: 'Change matching records, add other rows',
  update: 'Only change matching records',
  replace: 'Change, add, and delete records not in the file',
};

export interface RowMatchingProps {
  readonly table: Table;
  readonly matching: Matching;
  /** Fields that columns of the file go into. */
  readonly filled: readonly string[];
  /** Whether a column has the numbers of records: by those they are matched. */
  readonly isNumbered: boolean;
  readonly keepsEmpty: boolean;
  readonly onMatching: (matching: Matching) => void;
  readonly onKeepsEmpty: (keeps: boolean) => void;
}

/** What becomes of rows whose records are in the table already. */
export function RowMatching({ table, matching, filled, isNumbered, keepsEmpty, onMatching, onKeepsEmpty }: RowMatchingProps) {
  const { mode, by, isLoose } = matching;
  const fields = table.fields.filter((field) => filled.includes(field.id));
  const isMatched = mode !== 'add';
  return (
    <div className="planner-rows">
      <TextField
        select
        label="Rows of the file"
        value={isNumbered || by.length > 0 || mode !== 'both' ? mode : 'add'}
        onChange={(event) => {
          const next = event.target.value as Matching['mode'];
          const first = fields.find((field) => 'unique' in field && field.unique) ?? fields[0];
          onMatching({ ...matching, mode: next, by: next === 'add' || isNumbered ? [] : by.length > 0 || first === undefined ? by : [first.id] });
        }}
      >
        {rowModes.map((each) => (
          <MenuItem key={each} value={each}>
            {modeNames[each]}
          </MenuItem>
        ))}
      </TextField>
      {isMatched && !isNumbered && by.length > 0 && (
        <>
          <TextField
            select
            label="Matched by"
            value={by}
            onChange={(event) => {
              const chosen = event.target.value as unknown as string[];
              if (chosen.length > 0) onMatching({ ...matching, by: chosen });
            }}
            slotProps={{
              select: {
                multiple: true,
                renderValue: (chosen) => fields.flatMap((field) => ((chosen as string[]).includes(field.id) ? field.name : [])).join(' + '),
              },
            }}
          >
            {fields.map((field) => (
              <MenuItem key={field.id} value={field.id}>
                {field.name}
              </MenuItem>
            ))}
          </TextField>
          <FormControlLabel
            control={<Checkbox checked={isLoose} onChange={(_, loose) => onMatching({ ...matching, isLoose: loose })} />}
            label="Ignore capital letters and extra spaces"
          />
        </>
      )}
      {isMatched && (isNumbered || by.length > 0) && (
        <FormControlLabel
          control={<Checkbox checked={keepsEmpty} onChange={(_, keeps) => onKeepsEmpty(keeps)} />}
          label="Empty cells leave fields as they are"
        />
      )}
    </div>
  );
}
