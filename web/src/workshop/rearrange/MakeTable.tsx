import TextField from '@mui/material/TextField';
import { cannotGo, freeName, type Field, type Rearrangement, type Table } from '@bibliona/core';
import pluralize from 'pluralize';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { newId, useApp } from '../../state/app.js';
import { NameField } from '../parts/NameField.js';
import { Several } from '../parts/Several.js';
import { RearrangeDialog } from './RearrangeDialog.js';

/** A text that records repeat becomes a table of its own, and what follows from it can go along. */
export function MakeTable({
  table,
  field,
  follow = [],
  onClose,
}: {
  readonly table: Table;
  readonly field: Field;
  readonly follow?: readonly string[];
  readonly onClose: () => void;
}) {
  const app = useApp();
  const navigate = useNavigate();
  const [name, setName] = useState(() =>
    freeName(
      pluralize(field.name),
      app.design.tables.map((each) => each.name),
    ),
  );
  const [nameLabel, setNameLabel] = useState('Name');
  const [carried, setCarried] = useState(follow);
  const movable = table.fields.filter((each) => each !== field && cannotGo(app.design, table, each) === null);
  const [ids] = useState(() => ({ table: newId('t'), form: newId('fm'), list: newId('l'), name: newId('f'), relationship: newId('r'), reference: newId('f') }));
  const [carriedIds] = useState(() => new Map(movable.map((each) => [each.id, newId('f')])));
  const plan: Rearrangement | null =
    name.trim() === '' || nameLabel.trim() === ''
      ? null
      : {
          kind: 'field_to_table',
          table: table.id,
          field: field.id,
          made: { id: ids.table, name: name.trim(), form: ids.form, list: ids.list, nameField: ids.name, nameLabel: nameLabel.trim() },
          relationship: { id: ids.relationship, field: ids.reference, childrenName: table.name },
          carried: carried.flatMap((id) => {
            const to = carriedIds.get(id);
            return to === undefined ? [] : [{ field: id, to }];
          }),
        };
  return (
    <RearrangeDialog
      title={`Make ${field.name} a table`}
      intro={`Each ${field.name} becomes one record, to which records of ${table.name} refer. What is said of it is then kept once. Undo brings everything back.`}
      plan={plan}
      verb="Make the table"
      onClose={onClose}
      onDone={() => {
        onClose();
        void navigate(`/workshop/${app.id}/tables/${ids.table}`);
      }}
    >
      <NameField label="Name of the table" value={name} onChange={setName} problem={undefined} />
      <TextField
        label={`What holds the ${field.name}`}
        value={nameLabel}
        onChange={(event) => setNameLabel(event.target.value)}
        required
        helperText="The first field of the new table."
      />
      {movable.length > 0 && (
        <Several
          label="Goes along"
          options={movable}
          chosen={carried}
          onChange={setCarried}
          hint={`What is the same for each ${field.name}. ${table.name} goes on showing it.`}
          none="No such field."
        />
      )}
    </RearrangeDialog>
  );
}
