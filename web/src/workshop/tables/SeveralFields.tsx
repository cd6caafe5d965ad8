import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import type { Field } from '@bibliona/core';
import { pickerIcons } from '../../ui/picker-icons.js';

/** Picks some of the fields of a table. */
export function SeveralFields(props: {
  readonly label: string;
  readonly fields: readonly Field[];
  /** By their ids. */
  readonly chosen: readonly string[];
  readonly most?: number;
  readonly onChange: (chosen: readonly string[]) => void;
  readonly problem?: string | undefined;
  readonly hint: string;
}) {
  const { label, fields, chosen, most = Number.POSITIVE_INFINITY, onChange, problem, hint } = props;
  return (
    <Autocomplete<Field, true>
      multiple
      options={fields}
      value={fields.filter((field) => chosen.includes(field.id))}
      getOptionLabel={(field) => field.name}
      getOptionKey={(field) => field.id}
      getOptionDisabled={(field) => chosen.length >= most && !chosen.includes(field.id)}
      onChange={(_, picked) => onChange(picked.map((field) => field.id))}
      disableCloseOnSelect
      autoHighlight
      noOptionsText="No such field."
      {...pickerIcons}
      className="several"
      renderInput={(params) => <TextField {...params} label={label} error={problem !== undefined} helperText={problem ?? hint} />}
    />
  );
}
