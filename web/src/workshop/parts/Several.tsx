import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { pickerIcons } from '../../ui/picker-icons.js';

interface Option {
  readonly id: string;
  readonly name: string;
}

/** Picks some of several parts of the design, such as fields of a table. */
export function Several(props: {
  readonly label: string;
  readonly options: readonly Option[];
  /** By their ids. */
  readonly chosen: readonly string[];
  readonly most?: number;
  readonly onChange: (chosen: readonly string[]) => void;
  readonly problem?: string | undefined;
  readonly hint: string;
  /** What is said when none is found by what was typed. */
  readonly none: string;
}) {
  const { label, options, chosen, most = Number.POSITIVE_INFINITY, onChange, problem, hint, none } = props;
  return (
    <Autocomplete<Option, true>
      multiple
      options={options}
      value={options.filter((option) => chosen.includes(option.id))}
      getOptionLabel={(option) => option.name}
      getOptionKey={(option) => option.id}
      getOptionDisabled={(option) => chosen.length >= most && !chosen.includes(option.id)}
      onChange={(_, picked) => onChange(picked.map((option) => option.id))}
      disableCloseOnSelect
      autoHighlight
      noOptionsText={none}
      {...pickerIcons}
      className="several"
      renderInput={(params) => <TextField {...params} label={label} error={problem !== undefined} helperText={problem ?? hint} />}
    />
  );
}
