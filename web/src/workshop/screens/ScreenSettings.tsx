import Autocomplete from '@mui/material/Autocomplete';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import type { Form, List, Role } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { pickerIcons } from '../../ui/picker-icons.js';

type Screen = Pick<Form | List, 'name' | 'roles' | 'isDefault' | 'table'>;

/** What forms and lists have in common: a name, who works with it, and whether it is the one that opens. */
export function ScreenSettings({
  screen,
  what,
  onChange,
}: {
  readonly screen: Screen;
  readonly what: 'form' | 'list';
  readonly onChange: (part: Partial<Screen>) => void;
}) {
  const { design } = useApp();
  const isEverybodys = screen.isDefault && screen.roles.length === 0;
  return (
    <>
      <TextField label="Name" value={screen.name} onChange={(event) => onChange({ name: event.target.value })} required />
      <Autocomplete<Role, true>
        {...pickerIcons}
        multiple
        disabled={isEverybodys}
        options={[...design.roles]}
        value={design.roles.filter((role) => screen.roles.includes(role.id))}
        getOptionLabel={(role) => role.name}
        getOptionKey={(role) => role.id}
        onChange={(_, roles) => onChange({ roles: roles.map((role) => role.id), isDefault: roles.length > 0 && screen.isDefault })}
        renderInput={(params) => (
          <TextField
            {...params}
            label="For the roles"
            helperText={
              isEverybodys
                ? 'Everybody opens with it who has none of their own.'
                : screen.roles.length === 0
                  ? 'Empty: everybody who can see the table.'
                  : undefined
            }
          />
        )}
      />
      {screen.roles.length > 0 && (
        <FormControlLabel
          control={<Checkbox checked={screen.isDefault} onChange={(event) => onChange({ isDefault: event.target.checked })} />}
          label={`These roles open with this ${what}`}
        />
      )}
    </>
  );
}
