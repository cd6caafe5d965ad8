import Autocomplete from '@mui/material/Autocomplete';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { contract, tiesOfRole, type AppDesign, type Role, type Standing, type Tie } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { pickerIcons } from '../../ui/picker-icons.js';
import { keys } from '../../state/keys.js';

/** What someone is, or is to become, in the app. */
export interface Place {
  readonly role: Standing;
  readonly roles: readonly string[];
  readonly ties: Readonly<Record<string, number>>;
}

export function PlaceFields({
  place,
  tiedTo,
  onChange,
}: {
  readonly place: Place;
  readonly tiedTo: Readonly<Record<string, string>>;
  readonly onChange: (place: Place) => void;
}) {
  const { design } = useApp();
  const missing = missingTies(design, place);
  return (
    <>
      <TextField select label="In this app they" value={place.role} onChange={(event) => onChange({ ...place, role: event.target.value as Standing })}>
        <MenuItem value="member">work in it</MenuItem>
        <MenuItem value="builder">build it and can do everything</MenuItem>
      </TextField>
      {place.role === 'member' && (
        <fieldset className="roles-of">
          <legend>Roles</legend>
          {design.roles.map((role) => (
            <FormControlLabel
              key={role.id}
              control={
                <Checkbox
                  checked={place.roles.includes(role.id)}
                  onChange={(event) =>
                    onChange({ ...place, roles: event.target.checked ? [...place.roles, role.id] : place.roles.filter((one) => one !== role.id) })
                  }
                />
              }
              label={role.name}
            />
          ))}
        </fieldset>
      )}
      {place.role === 'member' && place.roles.length === 0 && <p className="q sm">Without a role they see nothing in the app.</p>}
      {missing.length > 0 && (
        <Note kind="look">
          {missing.map(({ role, tie }) => `${role.name} shows records of their own ${tie.name}: choose it below, or they see none of those.`).join(' ')}
        </Note>
      )}
      {design.ties.map((tie) => (
        <TiePicker
          key={tie.id}
          tie={tie}
          value={place.ties[tie.id]}
          caption={tiedTo[tie.id]}
          onChange={(id) =>
            onChange({
              ...place,
              ties: Object.fromEntries([...Object.entries(place.ties).filter(([one]) => one !== tie.id), ...(id === null ? [] : [[tie.id, id] as const])]),
            })
          }
        />
      ))}
    </>
  );
}

/** Roles that need a linked record which is not chosen. */
export const missingTies = (design: AppDesign, place: Place): readonly { readonly role: Role; readonly tie: Tie }[] =>
  place.role === 'builder'
    ? []
    : design.roles
        .filter((role) => place.roles.includes(role.id))
        .flatMap((role) =>
          design.ties.filter((tie) => place.ties[tie.id] === undefined && tiesOfRole(design, role).includes(tie.id)).map((tie) => ({ role, tie })),
        );

interface Picked {
  readonly id: number;
  readonly caption: string;
}

function TiePicker(props: {
  readonly tie: Tie;
  readonly value: number | undefined;
  readonly caption: string | undefined;
  readonly onChange: (id: number | null) => void;
}) {
  const { tie, value, caption, onChange } = props;
  const app = useApp();
  const [picked, setPicked] = useState<Picked | null>(value === undefined ? null : { id: value, caption: caption ?? `No. ${value}` });
  const [text, setText] = useState('');
  const asked = useDeferredValue(text === picked?.caption ? '' : text);
  const found = useQuery({
    queryKey: keys.lookup(app.id, tie.table, asked),
    queryFn: ({ signal }) => call(contract.lookUp, { params: { app: app.id, table: tie.table }, query: { text: asked }, signal }),
    placeholderData: (before) => before,
  });
  return (
    <Autocomplete<Picked>
      {...pickerIcons}
      options={found.data?.records ?? []}
      getOptionLabel={(one) => one.caption}
      getOptionKey={(one) => one.id}
      isOptionEqualToValue={(one, other) => one.id === other.id}
      filterOptions={(all) => all}
      value={picked}
      onInputChange={(_, next) => setText(next)}
      onChange={(_, next) => (setPicked(next), onChange(next?.id ?? null))}
      renderInput={(params) => <TextField {...params} label={`Linked record: ${tie.name}`} helperText={`The record that me.${tie.name} is for them`} />}
    />
  );
}
