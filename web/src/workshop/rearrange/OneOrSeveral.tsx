import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { freeName, tableOf, type LinkSide, type Relationship, type Table } from '@bibliona/core';
import pluralize from 'pluralize';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { newId, useApp } from '../../state/app.js';
import { NameField } from '../parts/NameField.js';
import { RearrangeDialog } from './RearrangeDialog.js';

/** A record that belongs to one can belong to several. */
export function SeveralParents({ relationship, onClose }: { readonly relationship: Relationship; readonly onClose: () => void }) {
  const app = useApp();
  const navigate = useNavigate();
  const [parent, child] = [tableOf(app.design, relationship.parent), tableOf(app.design, relationship.child)];
  const [shownAs, setShownAs] = useState(() =>
    freeName(
      parent.name,
      [
        ...child.fields.filter((field) => field.id !== relationship.field),
        ...app.design.relationships.filter((each) => each.parent === child.id).map((each) => ({ name: each.childrenName })),
      ].map((field) => field.name),
    ),
  );
  const [ids] = useState(() => ({
    link: newId('t'),
    form: newId('fm'),
    list: newId('l'),
    together: newId('u'),
    up: newId('r'),
    down: newId('r'),
    upField: newId('f'),
    downField: newId('f'),
  }));
  return (
    <RearrangeDialog
      title={`Several ${parent.name} for one of ${child.name}`}
      intro={`A record of ${child.name} can then belong to several of ${parent.name}. The ones that are chosen now stay. Undo brings everything back.`}
      plan={
        shownAs.trim() === ''
          ? null
          : {
              kind: 'several_parents',
              relationship: relationship.id,
              link: { id: ids.link, form: ids.form, list: ids.list, together: ids.together },
              parent: { relationship: ids.up, field: ids.upField, shownAs: relationship.childrenName },
              child: { relationship: ids.down, field: ids.downField, shownAs: shownAs.trim() },
            }
      }
      verb="Allow several"
      onClose={onClose}
      onDone={() => {
        onClose();
        void navigate(`/workshop/${app.id}/tables/${ids.link}`);
      }}
    >
      <NameField label={`Shown on ${child.name} as`} value={shownAs} onChange={setShownAs} problem={undefined} />
    </RearrangeDialog>
  );
}

/** Records of one side belong to one of the other. */
export function OneParent({ link, sides, onClose }: { readonly link: Table; readonly sides: readonly [LinkSide, LinkSide]; readonly onClose: () => void }) {
  const app = useApp();
  const navigate = useNavigate();
  const [childId, setChild] = useState(sides[1].relationship.id);
  const child = sides.find((side) => side.relationship.id === childId) ?? sides[1];
  const parent = child === sides[0] ? sides[1] : sides[0];
  const nameFor = (of: LinkSide, other: LinkSide): string =>
    freeName(
      pluralize.singular(other.table.name),
      of.table.fields.map((field) => field.name),
    );
  const [typed, setTyped] = useState<string | null>(null);
  const name = typed ?? nameFor(child, parent);
  const [ids] = useState(() => ({ relationship: newId('r'), field: newId('f') }));
  return (
    <RearrangeDialog
      title={`One of ${parent.table.name} for each of ${child.table.name}`}
      intro={`Each record of ${child.table.name} keeps the first that it has of ${parent.table.name}. Undo brings everything back.`}
      plan={
        name.trim() === ''
          ? null
          : {
              kind: 'one_parent',
              link: link.id,
              child: childId,
              reference: { relationship: ids.relationship, field: ids.field, name: name.trim(), childrenName: parent.relationship.childrenName },
            }
      }
      verb="Allow only one"
      onClose={onClose}
      onDone={() => {
        onClose();
        void navigate(`/workshop/${app.id}/tables/${child.table.id}/fields/${ids.field}`);
      }}
    >
      <TextField select label="Who has only one" value={childId} onChange={(event) => setChild(event.target.value)}>
        {sides.map((side) => (
          <MenuItem key={side.relationship.id} value={side.relationship.id}>
            {side.table.name}
          </MenuItem>
        ))}
      </TextField>
      <NameField isLater label="Name of its field" value={name} onChange={setTyped} problem={undefined} />
    </RearrangeDialog>
  );
}
