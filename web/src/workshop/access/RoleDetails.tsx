import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { EyeIcon, TrashIcon } from '@phosphor-icons/react';
import { everyPage, shownTables, type AppDesign, type AppPerson, type Role } from '@bibliona/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { menuEntries } from '../../state/pages.js';
import { useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { startLooking } from '../../state/look-as.js';
import { pickerIcons } from '../../ui/picker-icons.js';
import { Ask } from '../../ui/Ask.js';
import { Note } from '../../ui/Note.js';
import { DetailsHead } from '../parts/DetailsHead.js';
import { locale } from '../../state/locale.js';

/** A role: what it is called, and whether it can do everything. What it can do with a table is chosen in the sheet. */
export function RoleDetails({ role, people }: { readonly role: Role; readonly people: readonly AppPerson[] }) {
  const app = useApp();
  const { change, changeAsShown } = useDesignChange();
  const navigate = useNavigate();
  const [draft, setDraft] = useState(role);
  const [problem, setProblem] = useState<string | null>(null);
  const pages = menuEntries(app.design, app.id, everyPage(app.design));
  const isChanged = JSON.stringify(draft) !== JSON.stringify(role);
  const save = async (): Promise<void> => {
    const outcome = await change({ kind: 'put', part: 'role', value: draft });
    setProblem(outcome === true ? null : outcome.text);
  };
  const [isAsking, setAsking] = useState(false);
  const remove = async (): Promise<void> => {
    setAsking(false);
    const outcome = await changeAsShown({ kind: 'remove', part: 'role', id: role.id });
    if (outcome === true) await navigate(`/workshop/${app.id}/access`);
    else setProblem(outcome.text);
  };
  return (
    <>
      <DetailsHead kind="Role" title={role.name} of={{ to: 'role', id: role.id }} />
      <form
        className="details-body details-form"
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
        noValidate
      >
        <TextField label="Name" value={draft.name} onChange={(event) => setDraft({ ...draft, name: event.target.value })} required />
        <TextField label="Who has it" value={draft.description} onChange={(event) => setDraft({ ...draft, description: event.target.value })} multiline />
        <FormControlLabel
          control={<Checkbox checked={draft.everything} onChange={(event) => setDraft({ ...draft, everything: event.target.checked })} />}
          label="Full access to every table"
        />
        <p className="q sm">
          {draft.everything
            ? 'This includes tables that you add later.'
            : 'Choose permissions for each table in the sheet. A person with several roles has the permissions of all of them.'}
        </p>
        <Autocomplete
          {...pickerIcons}
          multiple
          options={[...pages]}
          groupBy={(entry) => entry.section}
          getOptionLabel={(entry) => entry.name}
          getOptionKey={(entry) => entry.to}
          isOptionEqualToValue={(menuEntry, other) => menuEntry.to === other.to}
          value={[...menuEntries(app.design, app.id, draft.menu)]}
          onChange={(_, chosen) => setDraft({ ...draft, menu: chosen.map((entry) => entry.page) })}
          renderInput={(params) => (
            <TextField
              {...params}
              label="Menu of the Desk"
              helperText={draft.menu.length === 0 ? 'Empty: every page they have access to.' : 'In this order. The Desk opens with the first page.'}
            />
          )}
        />
        {problem !== null && <Note kind="bad">{problem}</Note>}
        <div className="details-foot">
          <Button type="submit" variant="outlined" disabled={!isChanged}>
            Save role
          </Button>
          <Button startIcon={<EyeIcon />} onClick={() => startLooking({ app: app.id, as: `role:${role.id}`, name: `the role ${role.name}` })}>
            Look as
          </Button>
          <Button startIcon={<TrashIcon />} onClick={() => setAsking(true)}>
            Remove role
          </Button>
        </div>
      </form>
      {isAsking && (
        <Ask title={`Remove the role ${role.name}?`} verb="Remove 1 role" keep="Cancel" onAnswer={(yes) => (yes ? void remove() : setAsking(false))}>
          <ul className="touches">
            {touchedBy(role, app.design, people).map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
          You can undo this.
        </Ask>
      )}
    </>
  );
}

const counted = (n: number, each: string, many: string): string => `${locale().count(n)} ${n === 1 ? each : many}`;

/** What loses something when a role goes. */
function touchedBy(role: Role, design: AppDesign, people: readonly AppPerson[]): readonly string[] {
  const having = people.filter((person) => person.roles.includes(role.id));
  const others = having.filter((each) => each.roles.length === 1).length;
  const moves = design.routes.flatMap((route) => route.moves).filter((move) => move.roles.includes(role.id));
  const alone = moves.filter((move) => move.roles.length === 1).length;
  const tables = role.everything ? shownTables(design).length : new Set(role.grants.map((grant) => grant.table)).size;
  return [
    `${counted(having.length, 'person has', 'people have')} it${others === 0 ? '' : `; ${counted(others, 'has', 'have')} no other role and would see nothing`}.`,
    `It gives access to ${counted(tables, 'table', 'tables')} and has ${counted(role.menu.length, 'page', 'pages')} in its menu.`,
    ...(moves.length === 0
      ? []
      : [`${counted(moves.length, 'move names', 'moves name')} it${alone === 0 ? '' : `; ${alone} could then be made by builders only`}.`]),
  ];
}
