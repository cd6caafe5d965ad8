import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { cannotGo, type AppDesign, type Rearrangement, type Relationship, type Table } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { SeveralFields } from '../tables/SeveralFields.js';
import { RearrangeDialog } from './RearrangeDialog.js';

/** The references over which fields of a table can move. */
export const waysOut = (design: AppDesign, table: Table): readonly Relationship[] =>
  table.isLink ? [] : design.relationships.filter((one) => one.child === table.id && one.parent !== table.id);

/** Fields go to the table that a reference leads to. */
export function MoveFields({
  table,
  chosen,
  over,
  onClose,
}: {
  readonly table: Table;
  readonly chosen: readonly string[];
  readonly over?: string;
  readonly onClose: () => void;
}) {
  const { design } = useApp();
  const ways = waysOut(design, table);
  const [relationship, setRelationship] = useState(ways.find((one) => one.field === over)?.id ?? ways[0]?.id ?? '');
  const movable = table.fields.filter((one) => cannotGo(design, table, one) === null);
  const [fields, setFields] = useState(chosen);
  const [ids] = useState(() => new Map(movable.map((one) => [one.id, newId('f')])));
  const way = ways.find((one) => one.id === relationship);
  const parent = design.tables.find((one) => one.id === way?.parent)?.name ?? '';
  const carried = fields.flatMap((id) => {
    const to = ids.get(id);
    return to === undefined ? [] : [{ field: id, to }];
  });
  const plan: Rearrangement | null = way === undefined || carried.length === 0 ? null : { kind: 'move_fields', relationship, carried };
  return (
    <RearrangeDialog
      title={`Move fields of ${table.name}`}
      intro={`Each record of ${parent} gets the value that most of its ${table.name} have, and it is kept there once. ${table.name} goes on showing it. Undo brings everything back.`}
      plan={plan}
      verb="Move"
      onClose={onClose}
      onDone={onClose}
    >
      <SeveralFields label="Fields" fields={movable} chosen={fields} onChange={setFields} hint="What is the same for all that refer to one record." />
      <TextField select label="To" value={relationship} onChange={(event) => setRelationship(event.target.value)}>
        {ways.map((one) => {
          const to = design.tables.find((each) => each.id === one.parent)?.name ?? '';
          const by = table.fields.find((each) => each.id === one.field)?.name ?? '';
          return (
            <MenuItem key={one.id} value={one.id}>
              {to}, which {by} names
            </MenuItem>
          );
        })}
      </TextField>
    </RearrangeDialog>
  );
}
