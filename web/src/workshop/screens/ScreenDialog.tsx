import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { childrenOf, itemsOfReading, listFor, readingsOf, shownTables, tableOf, type ArrangementKind, type Picked } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { NameField } from '../parts/NameField.js';
import { TableField } from '../parts/TableField.js';
import { useMaking } from '../use-making.js';
import { FieldsOfTables } from './FieldsOfTables.js';
import { firstForm } from './form-draft.js';
import { firstArranged, fittingFields, ways } from '../parts/arrangements.js';
import { firstList } from './list-draft.js';
import { ReadingPicture } from './ReadingPicture.js';

/** What a form can begin with. */
type Beginning = 'children' | 'alone' | 'picked';
const unrelated = 'No record leads to all of these. Pick fields of tables that are related to one of them.';

/** A new form or list: of which table, what it begins with, what it is called. It is complete before anything is changed. */
export function ScreenDialog(props: {
  readonly what: 'form' | 'list';
  /** The table that is at hand. */
  readonly table: string | undefined;
  readonly onClose: () => void;
  readonly onMade: (id: string) => void;
}) {
  const { what, onClose, onMade } = props;
  const app = useApp();
  const { design } = app;
  const tables = shownTables(design);
  const { isSending, problemAt, say, clear, make } = useMaking(what);
  const [tableId, setTable] = useState(props.table ?? tables[0]?.id ?? '');
  const [begins, setBegins] = useState<Beginning>('children');
  const [picked, setPicked] = useState<Picked>(new Map());
  const [reading, setReading] = useState(0);
  const readings = begins === 'picked' ? readingsOf(design, picked) : [];
  const isBare = [...picked.values()].every((fields) => fields.size === 0);
  const [kind, setKind] = useState<ArrangementKind>('grid');
  const [name, setName] = useState('');
  const table = tables.find((each) => each.id === tableId);
  const children = table === undefined ? [] : childrenOf(design, table.id);
  const send = (): void => {
    if (table === undefined) return;
    if (name.trim() === '') return say('name', 'Enter a name that says what it is for');
    const id = newId(what === 'form' ? 'fm' : 'li');
    if (what === 'form' && begins === 'picked') {
      const chosen = readings[Math.min(reading, readings.length - 1)];
      if (chosen === undefined) return say('form', isBare ? 'Pick the fields that the form shows.' : unrelated);
      const items = itemsOfReading(design, chosen, picked, () => newId('pf'));
      const value = { id, name: name.trim(), table: chosen.table.id, roles: [], isDefault: false, items };
      return void make([{ kind: 'put', part: 'form', value }], () => onMade(id));
    }
    if (what === 'form')
      return void make(
        [{ kind: 'put', part: 'form', value: firstForm(design, tableOf(design, table.id), { id, name: name.trim() }, begins === 'children') }],
        () => onMade(id),
      );
    const arrangement = firstArranged(kind, (key) => fittingFields(kind, key, table, app));
    if (arrangement === null) return say('form', `${table.name} has no field for this arrangement. Add one at the station Tables, or choose another.`);
    const value = firstList({ id, name: name.trim(), table: table.id }, listFor(design, table.id).columns, arrangement);
    return void make([{ kind: 'put', part: 'list', value }], () => onMade(id));
  };
  return (
    <FormDialog
      title={what === 'form' ? 'A new form' : 'A new list'}
      intro={what === 'form' ? 'In a form people add, read and change one record.' : 'A list shows many records at once.'}
      onClose={onClose}
      onSubmit={send}
      verb={what === 'form' ? 'Make the form' : 'Make the list'}
      isSending={isSending}
      problem={problemAt('form')}
      isWide={begins === 'picked'}
    >
      {begins !== 'picked' && <TableField label="Of the table" value={tableId} tables={tables} onChange={(id) => (setTable(id), clear())} />}
      {what === 'form' && (
        <RadioGroup value={begins} onChange={(_, value) => (setBegins(value as Beginning), clear())} aria-label="What it begins with">
          {children.length > 0 && (
            <FormControlLabel value="children" control={<Radio />} label={`The record with ${children.map((child) => child.childrenName).join(', ')}`} />
          )}
          <FormControlLabel value="alone" control={<Radio />} label="The record alone" />
          <FormControlLabel value="picked" control={<Radio />} label="Fields that you pick, of one table or several" />
        </RadioGroup>
      )}
      {what === 'form' && begins === 'picked' && (
        <div className="picking">
          <FieldsOfTables key={tableId} near={tableId} picked={picked} onPick={(next) => (setPicked(next), clear())} />
          <div>
            {isBare && <p className="q sm">Pick fields at the left. Here you see how the form would be.</p>}
            {!isBare && readings.length === 0 && <p className="q sm">{unrelated}</p>}
            <RadioGroup
              value={Math.min(reading, readings.length - 1)}
              onChange={(_, value) => setReading(Number(value))}
              aria-label="What a record of the form is"
            >
              {readings.map((formReading, i) => (
                <FormControlLabel key={formReading.table.id} value={i} control={<Radio />} label={<ReadingPicture reading={formReading} picked={picked} />} />
              ))}
            </RadioGroup>
          </div>
        </div>
      )}
      {what === 'list' && table !== undefined && (
        <RadioGroup value={kind} onChange={(_, value) => (setKind(value as ArrangementKind), clear())} aria-label="How it is arranged" row>
          {(Object.keys(ways) as ArrangementKind[]).map((each) => (
            <FormControlLabel
              key={each}
              value={each}
              control={<Radio />}
              label={ways[each].name}
              disabled={firstArranged(each, (key) => fittingFields(each, key, table, app)) === null}
            />
          ))}
        </RadioGroup>
      )}
      <NameField isLater value={name} onChange={(typed) => (setName(typed), clear())} problem={problemAt('name')} />
    </FormDialog>
  );
}
