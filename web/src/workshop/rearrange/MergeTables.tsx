import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { canMerge, isAlike, isGiven, proposedMerge, tableOf, type AppDesign, type Rearrangement, type Table } from '@bibliona/core';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { newId, useApp } from '../../state/app.js';
import { NameField } from '../parts/NameField.js';
import { RearrangeDialog } from './RearrangeDialog.js';

/** The tables that another one can become part of. */
export const mergeTargets = (design: AppDesign, table: Table): readonly Table[] => design.tables.filter((each) => each !== table && !each.isLink);

type Merge = Extract<Rearrangement, { kind: 'merge_tables' }>;
// What can become of a field besides one of the other table.
const [own, behind] = ['own', 'behind'];

/** The records of a table go to another one, and the table goes. */
export function MergeTables({ table, onClose }: { readonly table: Table; readonly onClose: () => void }) {
  const { id, design } = useApp();
  const navigate = useNavigate();
  const proposals = useMemo(
    () =>
      mergeTargets(design, table)
        .map((into) => proposedMerge(design, table.id, into.id, newId))
        // The table that is most like it comes first.
        .toSorted((a, b) => shared(design, b) - shared(design, a)),
    [design, table],
  );
  const [intoId, setInto] = useState(proposals[0]?.into);
  const [typed, setTyped] = useState<string | null>(null);
  const [chosen, setChosen] = useState<Readonly<Record<string, string>>>({});
  const [ownIds] = useState(() => new Map(table.fields.map((field) => [field.id, newId('f')])));
  const proposed = proposals.find((each) => each.into === intoId);
  if (proposed === undefined) return null;
  const into = tableOf(design, proposed.into);
  const markName = typed ?? proposed.mark.name;
  const fields = table.fields.filter((field) => canMerge(design, field));
  const becomes = (field: string): string => {
    const to = proposed.carried.find((each) => each.field === field)?.to ?? '';
    return chosen[field] ?? (into.fields.some((each) => each.id === to) ? to : own);
  };
  const plan: Merge = {
    ...proposed,
    mark: { ...proposed.mark, name: markName.trim() },
    carried: proposed.carried.flatMap(({ field }) => {
      const is = becomes(field);
      return is === behind ? [] : [{ field, to: is === own ? (ownIds.get(field) ?? '') : is }];
    }),
  };
  return (
    <RearrangeDialog
      title={`Merge ${table.name} into another table`}
      intro={`Each record of ${table.name} becomes one of the other table, and ${table.name} goes. Queries, reports, dashboards, automations and permissions keep to the records they had: take out their condition where you want all of them. Undo makes two tables of it again.`}
      plan={markName.trim() === '' ? null : plan}
      verb="Merge"
      onClose={onClose}
      onDone={() => {
        onClose();
        void navigate(`/workshop/${id}/tables/${into.id}`);
      }}
    >
      <TextField
        select
        label="Into"
        value={into.id}
        onChange={(event) => {
          setInto(event.target.value);
          setChosen({});
        }}
      >
        {proposals.map((each) => (
          <MenuItem key={each.into} value={each.into}>
            {tableOf(design, each.into).name}
          </MenuItem>
        ))}
      </TextField>
      <NameField
        isLater
        label="Field that tells them apart"
        value={markName}
        onChange={setTyped}
        problem={undefined}
        hint={`A new choice of ${into.name}: ${into.name} or ${table.name}.`}
      />
      {fields.length > 0 && (
        <fieldset className="merge-fields">
          <legend>What the fields of {table.name} become</legend>
          {fields.map((field) => (
            <TextField
              key={field.id}
              select
              size="small"
              label={field.name}
              value={becomes(field.id)}
              onChange={(event) => setChosen({ ...chosen, [field.id]: event.target.value })}
            >
              {into.fields
                .filter((each) => isAlike(design, field, each))
                .map((each) => (
                  <MenuItem key={each.id} value={each.id}>
                    {each.name}
                  </MenuItem>
                ))}
              <MenuItem value={own}>{isGiven(field) ? 'A new text field' : 'A new field'}</MenuItem>
              <MenuItem value={behind}>Left out</MenuItem>
            </TextField>
          ))}
        </fieldset>
      )}
    </RearrangeDialog>
  );
}

/** How many fields both tables have. */
const shared = (design: AppDesign, { into, carried }: Merge): number => {
  const { fields } = tableOf(design, into);
  return carried.filter((each) => fields.some((field) => field.id === each.to)).length;
};
