import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { cannotGo, type AppDesign, type Rearrangement, type Relationship, type Table } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { Several } from '../parts/Several.js';
import { RearrangeDialog } from './RearrangeDialog.js';

/** The references over which fields of a table can move. */
export const waysOut = (design: AppDesign, table: Table): readonly Relationship[] =>
  table.isLink ? [] : design.relationships.filter((relationship) => relationship.child === table.id && relationship.parent !== table.id);

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
  const [relationship, setRelationship] = useState(ways.find((each) => each.field === over)?.id ?? ways[0]?.id ?? '');
  const movable = table.fields.filter((field) => cannotGo(design, table, field) === null);
  const [fields, setFields] = useState(chosen);
  const [ids] = useState(() => new Map(movable.map((each) => [each.id, newId('f')])));
  const way = ways.find((each) => each.id === relationship);
  const parent = design.tables.find((each) => each.id === way?.parent)?.name ?? '';
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
      <Several
        label="Fields"
        none="No such field."
        options={movable}
        chosen={fields}
        onChange={setFields}
        hint="What is the same for all that refer to one record."
      />
      <TextField select label="To" value={relationship} onChange={(event) => setRelationship(event.target.value)}>
        {ways.map((item) => {
          const to = design.tables.find((each) => each.id === item.parent)?.name ?? '';
          const by = table.fields.find((each) => each.id === item.field)?.name ?? '';
          return (
            <MenuItem key={item.id} value={item.id}>
              {to}, which {by} names
            </MenuItem>
          );
        })}
      </TextField>
    </RearrangeDialog>
  );
}
