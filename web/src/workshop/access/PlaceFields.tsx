import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { tiesOfRole, type AppDesign, type Role, type Membership, type Tie } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { RecordPicker } from '../RecordPicker.js';

/** What someone is, or is to become, in the app. */
export interface Place {
  readonly role: Membership;
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
      <TextField select label="In this app they" value={place.role} onChange={(event) => onChange({ ...place, role: event.target.value as Membership })}>
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
        <RecordPicker
          key={tie.id}
          table={tie.table}
          value={place.ties[tie.id]}
          caption={tiedTo[tie.id]}
          name={`Linked record: ${tie.name}`}
          isLabelled
          hint={`The record that me.${tie.name} is for them`}
          className=""
          onPick={(id) =>
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
