import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { CaretDownIcon, CaretRightIcon } from '@phosphor-icons/react';
import { shownTables, type AppDesign, type Picked, type Table } from '@bibliona/core';
import { useState } from 'react';
import { useApp } from '../../state/app.js';

/** The tables in the order of how near they are to one: itself, those it is related to, those that these are related to, the others. */
function nearFirst(design: AppDesign, id: string): readonly Table[] {
  const distance = new Map([[id, 0]]);
  for (const [at, steps] of distance)
    for (const { parent, child } of design.relationships)
      for (const next of at === parent ? [child] : at === child ? [parent] : []) if (!distance.has(next)) distance.set(next, steps + 1);
  const far = design.tables.length;
  return [...shownTables(design)].sort((table, other) => (distance.get(table.id) ?? far) - (distance.get(other.id) ?? far));
}

interface Props {
  /** The table that is at hand. */
  readonly near: string;
  readonly picked: Picked;
  readonly onPick: (picked: Picked) => void;
}

/** Fields of any tables, to be picked for a form. */
export function FieldsOfTables({ near, picked, onPick }: Props) {
  const { design } = useApp();
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set([near]));
  const toggle = (id: string): void => {
    const next = new Set(open);
    if (!next.delete(id)) next.add(id);
    setOpen(next);
  };
  const pick = (table: string, field: string): void => {
    const of = new Set(picked.get(table));
    if (!of.delete(field)) of.add(field);
    onPick(new Map([...picked, [table, of]]));
  };
  return (
    <div className="fields-of-tables" role="group" aria-label="Fields of the form" tabIndex={0}>
      {nearFirst(design, near).map((table) => {
        const isOpen = open.has(table.id);
        const count = picked.get(table.id)?.size ?? 0;
        return (
          <section key={table.id} aria-label={table.name}>
            <button type="button" aria-expanded={isOpen} onClick={() => toggle(table.id)}>
              {isOpen ? <CaretDownIcon size={14} /> : <CaretRightIcon size={14} />}
              <span className="el">{table.name}</span>
              {count > 0 && <span className="k">{count}</span>}
            </button>
            {isOpen &&
              table.fields.map((field) => (
                <FormControlLabel
                  key={field.id}
                  label={field.name}
                  control={<Checkbox checked={picked.get(table.id)?.has(field.id) === true} onChange={() => pick(table.id, field.id)} />}
                />
              ))}
          </section>
        );
      })}
    </div>
  );
}
