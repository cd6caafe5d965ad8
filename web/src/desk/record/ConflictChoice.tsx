import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import Radio from '@mui/material/Radio';
import { isReference, printValue, type Conflict, type Field, type Table, type Typed } from '@bibliona/core';
import { useState } from 'react';
import { typedOf, valueOf, type TypedValues } from './draft.js';
import { locale } from '../../state/locale.js';

export interface ConflictChoiceProps {
  readonly table: Table;
  readonly conflict: Conflict;
  /** What it is about: the record of the form, a row in it, or another record that it refers to. */
  readonly of: 'this' | 'row' | 'record';
  readonly mine: TypedValues;
  readonly base: TypedValues;
  readonly onChoose: (values: TypedValues) => void;
  readonly onClose: () => void;
}

const idOf = (typed: Typed | undefined): string => JSON.stringify(isReference(typed) ? typed.id : (typed ?? ''));

function words(field: Field, typed: Typed | undefined): string {
  const parsed = valueOf(field, typed ?? null);
  const text = parsed.ok ? printValue(field, parsed.value, locale()) : String(typed);
  return text === '' ? 'empty' : text;
}

/** Which row or record is meant, by the first things it says. */
function saidOf(table: Table, base: TypedValues, of: 'row' | 'record'): string {
  const said = table.fields.flatMap((field) => {
    const text = words(field, base[field.id]);
    return text === 'empty' ? [] : [text];
  });
  return said.length === 0 ? `a ${of}` : `the ${of} "${said.slice(0, 3).join(' · ')}"`;
}

/** Two people changed one record: both versions, field by field, and the second of them chooses. */
export function ConflictChoice({ table, conflict, of, mine, base, onChoose, onClose }: ConflictChoiceProps) {
  const { current, by } = conflict;
  const theirs = current === null ? {} : Object.fromEntries(table.fields.map((field) => [field.id, typedOf(field, current.values[field.id] ?? null)]));
  const differing = table.fields.filter((field) => field.id in mine && idOf(mine[field.id]) !== idOf(theirs[field.id]));
  // Where only one side changed a field, that side is meant; where both did, mine stands until another is chosen.
  const [choice, setChoice] = useState<Readonly<Record<string, 'mine' | 'theirs'>>>(() =>
    Object.fromEntries(differing.map((field) => [field.id, idOf(mine[field.id]) === idOf(base[field.id]) ? 'theirs' : 'mine'])),
  );
  const who = by ?? 'Someone else';
  if (current === null) {
    return (
      <Dialog open onClose={onClose} aria-labelledby="conflict-title" transitionDuration={0}>
        <div className="ask">
          <h2 id="conflict-title">{of === 'this' ? 'This record is no longer available' : `A ${of} of ${table.name} is no longer available`}</h2>
          <p>It was deleted, or you no longer have access to it. What you typed is still in the form; copy what you need from there.</p>
          <div className="ask-foot">
            <Button variant="contained" onClick={onClose}>
              Back to the form
            </Button>
          </div>
        </div>
      </Dialog>
    );
  }
  const chosen = (): TypedValues =>
    Object.fromEntries(differing.map((field) => [field.id, (choice[field.id] === 'theirs' ? theirs[field.id] : mine[field.id]) ?? null]));
  const pick = (field: Field, side: 'mine' | 'theirs', typed: Typed | undefined) => (
    <td>
      <label className="choice-cell">
        <Radio
          size="small"
          name={`conflict ${field.id}`}
          checked={choice[field.id] === side}
          onChange={() => setChoice({ ...choice, [field.id]: side })}
          slotProps={{ input: { 'aria-label': `${field.name}: ${side === 'mine' ? 'yours' : 'theirs'}, ${words(field, typed)}` } }}
        />
        <span className={words(field, typed) === 'empty' ? 'nil' : ''}>{words(field, typed)}</span>
      </label>
    </td>
  );
  return (
    <Dialog open onClose={onClose} aria-labelledby="conflict-title" transitionDuration={0} slotProps={{ paper: { className: 'conflict' } }}>
      <div className="ask">
        <h2 id="conflict-title">
          {of === 'this' ? `${who} changed this record at the same time` : `${who} changed ${saidOf(table, base, of)} in ${table.name} at the same time`}
        </h2>
        <p>Both versions are kept in the history. For each field, choose which value to save.</p>
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Field</th>
              <th scope="col">When you opened it</th>
              <th scope="col">Yours</th>
              <th scope="col">{by === null ? 'Theirs' : by}</th>
            </tr>
          </thead>
          <tbody>
            {differing.map((field) => (
              <tr key={field.id}>
                <th scope="row">{field.name}</th>
                <td className="q">{words(field, base[field.id])}</td>
                {pick(field, 'mine', mine[field.id])}
                {pick(field, 'theirs', theirs[field.id])}
              </tr>
            ))}
          </tbody>
        </table>
        <div className="ask-foot">
          <Button onClick={onClose}>Back to the form</Button>
          <Button variant="contained" autoFocus onClick={() => onChoose(chosen())}>
            Save this choice
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
