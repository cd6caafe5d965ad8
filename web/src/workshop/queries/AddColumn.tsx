import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { CaretDownIcon, CaretRightIcon, FunctionIcon } from '@phosphor-icons/react';
import { leavesOutEmpty, membersOf, parentOf, shownExpression, tableOf, typeOfField, type AppDesign, type Field, type QueryColumn } from '@bibliona/core';
import { useState } from 'react';
import { useApp } from '../../state/app.js';

type Picked = Pick<QueryColumn, 'name' | 'expression' | 'summary'>;

/** Columns by pointing: fields of the table, those of records it refers to, and its children summarised. */
export function AddColumn(props: {
  readonly table: string;
  /** Of rows that are not summarised. */
  readonly isOfRows?: boolean;
  readonly onPick: (column: Picked) => void;
}) {
  const { table, isOfRows = false, onPick } = props;
  const { design } = useApp();
  const { name } = tableOf(design, table);
  return (
    <div className="details-body">
      <p className="q sm">Choose a field of {name}, a field of a linked record, or a summary of related records.</p>
      <Steps design={design} table={table} path="" pathInWords="" onPick={onPick} />
      {!isOfRows && (
        <>
          <h3 className="h3">All rows together</h3>
          <ul className="steps">
            <li>
              <Button onClick={() => onPick({ name: `Number of ${name}`, expression: '', summary: 'count' })}>Number of {name}</Button>
            </li>
          </ul>
        </>
      )}
      <div className="details-foot">
        <Button className="go" startIcon={<FunctionIcon />} onClick={() => onPick({ name: 'Formula', expression: '', summary: null })}>
          Expression
        </Button>
      </div>
    </div>
  );
}

interface StepsProps {
  readonly design: AppDesign;
  readonly table: string;
  /** How an expression speaks of these records; ends with a dot unless it is empty. */
  readonly path: string;
  /** The same in words, for the name of a column. */
  readonly pathInWords: string;
  readonly onPick: (column: Picked) => void;
}

function Steps({ design, table, path, pathInWords, onPick }: StepsProps) {
  const [open, setOpen] = useState<string | null>(null);
  const named = (name: string): string => (pathInWords === '' ? name : `${pathInWords} ${name.toLowerCase()}`);
  const toggle = (name: string) => (
    <IconButton aria-label={`Show fields of ${name}`} aria-expanded={open === name} onClick={() => setOpen(open === name ? null : name)}>
      {open === name ? <CaretDownIcon size={14} /> : <CaretRightIcon size={14} />}
    </IconButton>
  );
  return (
    <ul className="steps">
      {membersOf(design, table).map((member) => {
        const expression = `${path}${member.name}`;
        if (member.kind === 'children') {
          const { child } = member.relationship;
          return (
            <li key={member.relationship.id}>
              <div>
                <Button onClick={() => onPick({ name: `Number of ${named(member.name).toLowerCase()}`, expression: `count(${expression})`, summary: null })}>
                  Number of {member.relationship.childrenName}
                </Button>
                {toggle(member.name)}
              </div>
              {open === member.name && <Sums design={design} table={child} path={expression} pathInWords={named(member.name)} onPick={onPick} />}
            </li>
          );
        }
        return (
          <li key={member.field.id}>
            <div>
              <Button onClick={() => onPick({ name: named(member.field.name), expression: shownExpression(member.field, expression), summary: null })}>
                {member.field.name}
              </Button>
              {member.field.kind === 'reference' && toggle(member.name)}
            </div>
            {open === member.name && member.field.kind === 'reference' && (
              <Steps design={design} table={parentOf(design, member.field).id} path={`${expression}.`} pathInWords={named(member.field.name)} onPick={onPick} />
            )}
          </li>
        );
      })}
    </ul>
  );
}

/** Empty values are left out, as totals do: the language itself gives nothing as soon as one value is empty. */
const summaryOf = (way: string, list: string, field: Field): string => (field.required ? `${way}(${list})` : `${way}(${list}${leavesOutEmpty})`);

/** What can be said of many records in one value. */
function Sums({ design, table, path, pathInWords, onPick }: StepsProps) {
  const offered = membersOf(design, table).flatMap((member) => {
    if (member.kind !== 'field') return [];
    const kind = typeOfField(design, table, member.field)?.kind;
    const ways = kind === 'number' ? (['sum', 'mean', 'max'] as const) : kind === 'date' ? (['min', 'max'] as const) : [];
    return ways.map((way) => {
      const word = { sum: 'Sum of', mean: 'Average', min: 'Earliest', max: kind === 'date' ? 'Latest' : 'Largest' }[way];
      return { key: `${way} ${member.field.id}`, label: `${word} ${member.field.name}`, expression: summaryOf(way, `${path}.${member.name}`, member.field) };
    });
  });
  if (offered.length === 0) return <p className="q sm steps-none">These records have no numbers or dates to summarise. Use an expression.</p>;
  return (
    <ul className="steps">
      <li className="q sm steps-none">Empty values are left out.</li>
      {offered.map((each) => (
        <li key={each.key}>
          <Button onClick={() => onPick({ name: `${each.label} of ${pathInWords.toLowerCase()}`, expression: each.expression, summary: null })}>
            {each.label}
          </Button>
        </li>
      ))}
    </ul>
  );
}
