import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { tiesOfRole, type AppDesign, type Role, type Membership, type Tie } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { RecordPicker } from '../RecordPicker.js';

/** What someone is, or is to become, in the app. */
export interface Assignment {
  readonly role: Membership;
  readonly roles: readonly string[];
  readonly ties: Readonly<Record<string, number>>;
}

export function AssignmentFields({
  assignment,
  tiedTo,
  onChange,
}: {
  readonly assignment: Assignment;
  readonly tiedTo: Readonly<Record<string, string>>;
  readonly onChange: (assignment: Assignment) => void;
}) {
  const { design } = useApp();
  const missing = missingTies(design, assignment);
  return (
    <>
      <TextField
        select
        label="In this app they"
        value={assignment.role}
        onChange={(event) => onChange({ ...assignment, role: event.target.value as Membership })}
      >
        <MenuItem value="member">work in it</MenuItem>
        <MenuItem value="builder">build it and can do everything</MenuItem>
      </TextField>
      {assignment.role === 'member' && (
        <fieldset className="roles-of">
          <legend>Roles</legend>
          {design.roles.map((role) => (
            <FormControlLabel
              key={role.id}
              control={
                <Checkbox
                  checked={assignment.roles.includes(role.id)}
                  onChange={(event) =>
                    onChange({
                      ...assignment,
                      roles: event.target.checked ? [...assignment.roles, role.id] : assignment.roles.filter((each) => each !== role.id),
                    })
                  }
                />
              }
              label={role.name}
            />
          ))}
        </fieldset>
      )}
      {assignment.role === 'member' && assignment.roles.length === 0 && <p className="q sm">Without a role they see nothing in the app.</p>}
      {missing.length > 0 && (
        <Note kind="look">
          {missing.map(({ role, tie }) => `${role.name} shows records of their own ${tie.name}: choose it below, or they see none of those.`).join(' ')}
        </Note>
      )}
      {design.ties.map((tie) => (
        <RecordPicker
          key={tie.id}
          table={tie.table}
          value={assignment.ties[tie.id]}
          caption={tiedTo[tie.id]}
          name={`Linked record: ${tie.name}`}
          isLabelled
          hint={`The record that me.${tie.name} is for them`}
          className=""
          onPick={(id) =>
            onChange({
              ...assignment,
              ties: Object.fromEntries([
                ...Object.entries(assignment.ties).filter(([each]) => each !== tie.id),
                ...(id === null ? [] : [[tie.id, id] as const]),
              ]),
            })
          }
        />
      ))}
    </>
  );
}

/** Roles that need a linked record which is not chosen. */
export const missingTies = (design: AppDesign, assignment: Assignment): readonly { readonly role: Role; readonly tie: Tie }[] =>
  assignment.role === 'builder'
    ? []
    : design.roles
        .filter((role) => assignment.roles.includes(role.id))
        .flatMap((role) =>
          design.ties.filter((tie) => assignment.ties[tie.id] === undefined && tiesOfRole(design, role).includes(tie.id)).map((tie) => ({ role, tie })),
        );
