import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useApp } from '../../state/app.js';
import { rowSourceNames, rowSources, type PickedRows } from './row-sources.js';

const written = ({ kind, id }: PickedRows): string => `${kind} ${id}`;

/** Picks what a report or a tile is made of. */
export function RowsPicker(props: { readonly label: string; readonly value: PickedRows; readonly onChange: (rows: PickedRows) => void }) {
  const { design } = useApp();
  const choices = rowSourceNames.flatMap((kind) => rowSources[kind].all(design).map(({ id, name }) => ({ picked: { kind, id }, name })));
  return (
    <TextField
      select
      label={props.label}
      value={written(props.value)}
      onChange={(event) => {
        const choice = choices.find(({ picked }) => written(picked) === event.target.value);
        if (choice !== undefined) props.onChange(choice.picked);
      }}
    >
      {choices.map(({ picked, name }) => (
        <MenuItem key={written(picked)} value={written(picked)}>
          {name}
        </MenuItem>
      ))}
    </TextField>
  );
}
