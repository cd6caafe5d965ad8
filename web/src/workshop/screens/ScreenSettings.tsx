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
  isOpening,
  onChange,
}: {
  readonly screen: Screen;
  readonly what: 'form' | 'list';
  /** Everybody opens with it as it is saved: that ends when another one is made so. */
  readonly isOpening: boolean;
  readonly onChange: (part: Partial<Screen>) => void;
}) {
  const { design } = useApp();
  return (
    <>
      <TextField label="Name" value={screen.name} onChange={(event) => onChange({ name: event.target.value })} required />
      <Autocomplete<Role, true>
        {...pickerIcons}
        multiple
        disabled={isOpening}
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
              isOpening
                ? 'Everybody opens with it, except roles with one of their own.'
                : screen.roles.length === 0
                  ? 'Empty: everybody who can see the table.'
                  : undefined
            }
          />
        )}
      />
      <FormControlLabel
        control={<Checkbox checked={screen.isDefault} disabled={isOpening} onChange={(event) => onChange({ isDefault: event.target.checked })} />}
        label={screen.roles.length > 0 ? `These roles open with this ${what}` : `Everybody opens with this ${what}`}
      />
    </>
  );
}
