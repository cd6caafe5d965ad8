import { CaretDownIcon, CaretRightIcon } from '@phosphor-icons/react';
import { kindOf, mostSteps, parentOf, type Form, type FormItem, type FormItemOf, type Table } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { Offered } from './Offered.js';

interface Props {
  readonly form: Form;
  /** Whose references lead on: the table of the form, or one on the way. */
  readonly table: Table;
  readonly through: readonly string[];
  /** In small letters; empty: all are offered. */
  readonly find: string;
  readonly onPut: (item: FormItem) => void;
}

/** For each reference the fields of the record behind it, to be shown on the form; they are listed when that is opened. */
export function OfferedParents({ table, through, ...props }: Props) {
  if (through.length >= mostSteps) return null;
  return table.fields
    .filter((field) => field.kind === 'reference')
    .map((field) => <OfReference key={field.id} {...props} table={table} reference={field.id} name={field.name} through={[...through, field.id]} />);
}

function OfReference({ form, table, reference, name, through, find, onPut }: Props & { readonly reference: string; readonly name: string }) {
  const { design } = useApp();
  const [isOpen, setOpen] = useState(false);
  const [ids] = useState(() => new Map<string, string>());
  const field = table.fields.find((each) => each.id === reference);
  if (field === undefined) return null;
  const parent = parentOf(design, field);
  const isShown = isOpen || find !== '';
  const placed = form.items.filter((item): item is FormItemOf<'parent'> => item.kind === 'parent' && item.through.join() === through.join());
  const itemOf = (id: string, width: number): FormItemOf<'parent'> => {
    const own = ids.get(id) ?? newId('pf');
    ids.set(id, own);
    return { kind: 'parent', id: own, through: [...through], field: id, width };
  };
  return (
    <li>
      <button type="button" className="offered-of" aria-expanded={isShown} onClick={() => setOpen(!isOpen)}>
        {isShown ? <CaretDownIcon size={14} /> : <CaretRightIcon size={14} />}
        <span className="el">Of its {name}</span>
      </button>
      {isShown && (
        <ul>
          {parent.fields
            .filter((each) => `${name} ${each.name}`.toLowerCase().includes(find))
            .map((other) => {
              const item = itemOf(other.id, kindOf(other).traits.formWidth);
              return (
                <Offered
                  key={other.id}
                  item={item}
                  name={other.name}
                  of={name}
                  kind={other.kind}
                  isFree={!placed.some((each) => each.field === other.id)}
                  onPut={() => onPut(item)}
                />
              );
            })}
          {(isOpen || find === '') && <OfferedParents form={form} table={parent} through={through} find="" onPut={onPut} />}
        </ul>
      )}
    </li>
  );
}
