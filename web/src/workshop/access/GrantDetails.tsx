import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { PlusIcon, TrashIcon } from '@phosphor-icons/react';
import { check, grantOf, wants, type AppPerson, type Grant, type Role, type Table } from '@bibliona/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { newId, useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { pickerIcons } from '../../ui/picker-icons.js';
import { Note } from '../../ui/Note.js';
import { ConditionEditor } from '../expression/ConditionEditor.js';
import { withGrant, withoutGrant } from './grant-words.js';

const actions = [
  ['see', 'See'],
  ['add', 'Add'],
  ['change', 'Change'],
  ['remove', 'Remove'],
  ['export', 'Export'],
] as const;

/** What a role can do with one table: grants, each for some records and fields. */
export function GrantDetails({ role, table, of }: { readonly role: Role; readonly table: Table; readonly of: AppPerson | undefined }) {
  const app = useApp();
  const { change } = useDesignChange();
  const [draft, setDraft] = useState(role);
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const grants = draft.grants.filter((grant) => grant.table === table.id);
  const isChanged = JSON.stringify(draft) !== JSON.stringify(role);
  const add = (): void => setDraft(withGrant(draft, grantOf(newId('g'), table.id)));
  const save = async (): Promise<void> => {
    for (const grant of grants) {
      if (grant.condition.trim() === '') continue;
      const checked = check(grant.condition, { design: app.design, table: table.id }, wants.truth);
      if (!checked.ok) return setProblem(checked.problems[0]?.message ?? '');
    }
    setSending(true);
    const outcome = await change({ kind: 'put', part: 'role', value: draft });
    setSending(false);
    setProblem(outcome === true ? null : outcome.text);
  };
  return (
    <>
      <header>
        <div className="kind">Permissions of {role.name}</div>
        <h2>{table.name}</h2>
      </header>
      <form
        className="details-body details-form"
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
        noValidate
      >
        {role.everything ? (
          <p className="q sm">
            This role has full access. <Link to={`/workshop/${app.id}/access/roles/${role.id}`}>Change the role</Link> to set permissions for each table.
          </p>
        ) : (
          <>
            {grants.length === 0 && <p className="q sm">No permissions yet: this role can't see or change records of {table.name}.</p>}
            <ul className="checks">
              {grants.map((grant, i) => (
                <GrantPart
                  key={grant.id}
                  grant={grant}
                  place={i + 1}
                  table={table}
                  of={of}
                  onChange={(next) => (setDraft(withGrant(draft, next)), setProblem(null))}
                  onRemove={() => setDraft(withoutGrant(draft, grant.id))}
                />
              ))}
            </ul>
            <div>
              <Button className="go" startIcon={<PlusIcon />} onClick={add}>
                Grant
              </Button>
            </div>
            {problem !== null && <Note kind="bad">{problem}</Note>}
            <div className="details-foot">
              <Button type="submit" variant="contained" disabled={!isChanged} loading={isSending}>
                Save grants
              </Button>
            </div>
          </>
        )}
      </form>
    </>
  );
}

function GrantPart(props: {
  readonly grant: Grant;
  readonly place: number;
  readonly table: Table;
  /** For whom the proof of its condition counts. */
  readonly of: AppPerson | undefined;
  readonly onChange: (grant: Grant) => void;
  readonly onRemove: () => void;
}) {
  const { grant, place, table, of, onChange, onRemove } = props;
  const { design } = useApp();
  const fields = (key: 'hidden' | 'locked', label: string) => (
    <Autocomplete
      {...pickerIcons}
      multiple
      options={table.fields.filter((field) => key === 'hidden' || field.kind !== 'formula')}
      getOptionLabel={(field) => field.name}
      isOptionEqualToValue={(each, other) => each.id === other.id}
      value={table.fields.filter((field) => grant[key].includes(field.id))}
      onChange={(_, chosen) => onChange({ ...grant, [key]: chosen.map((field) => field.id) })}
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  );
  return (
    <li>
      <div className="grant-actions">
        {actions.map(([action, name]) => (
          <FormControlLabel
            key={action}
            control={<Checkbox checked={grant[action]} onChange={(event) => onChange({ ...grant, [action]: event.target.checked })} />}
            label={name}
          />
        ))}
      </div>
      <ConditionEditor
        label={`Grant ${place}: only records where`}
        value={grant.condition}
        onChange={(condition) => onChange({ ...grant, condition })}
        scope={{ design, table: table.id }}
        hint="Every record."
        of={of}
      />
      {fields('hidden', 'Hidden fields')}
      {fields('locked', 'Read-only fields')}
      <div>
        <Button size="small" startIcon={<TrashIcon />} onClick={onRemove}>
          Remove grant {place}
        </Button>
      </div>
    </li>
  );
}
