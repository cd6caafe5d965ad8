import { useDraggable } from '@dnd-kit/core';
import { PlusIcon } from '@phosphor-icons/react';
import { itemKey, listFor, type AppDesign, type Form, type FormItem, type Table } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { listsBeside } from './related.js';

/** What can be put on a form any number of times, and how each begins; null: not on a form of this table. */
const starts: readonly { readonly name: string; readonly make: (design: AppDesign, table: Table) => FormItem | null }[] = [
  { name: 'Section', make: () => ({ kind: 'heading', id: newId('hd'), text: 'Section' }) },
  { name: 'Tab', make: () => ({ kind: 'tab', id: newId('tb'), name: 'Tab' }) },
  { name: 'Text', make: () => ({ kind: 'text', id: newId('tx'), text: 'A text that helps.', width: 12 }) },
  { name: 'Image', make: () => ({ kind: 'image', id: newId('im'), alt: '', width: 6 }) },
  {
    name: 'Button',
    make: (design, table) => {
      const { id, name } = listFor(design, table.id);
      return { kind: 'button', id: newId('bt'), name, does: { kind: 'page', page: { kind: 'list', list: id } }, width: 3 };
    },
  },
  {
    name: 'List',
    make: (design, table) => {
      const [beside] = listsBeside(design, table);
      return beside === undefined ? null : { kind: 'list', id: newId('rl'), list: beside.list.id, by: beside.by.id, rows: 10 };
    },
  },
];

interface Props {
  readonly table: Table;
  readonly form: Form;
  readonly onPut: (item: FormItem) => void;
}

/** Sections, tabs, texts, images, buttons and lists: pressed or dragged to where they will be. */
export function OfferedNew(props: Props) {
  return (
    <ul className="offered-new">
      {starts.map((start) => (
        <New key={start.name} {...props} {...start} />
      ))}
    </ul>
  );
}

function New({ table, form, onPut, name, make }: Props & (typeof starts)[number]) {
  const { design } = useApp();
  const [item, setItem] = useState(() => make(design, table));
  const key = item === null ? '' : itemKey(item);
  // Once it is on the form, the next one is another.
  if (item !== null && form.items.some((each) => itemKey(each) === key)) setItem(make(design, table));
  const { setNodeRef, listeners } = useDraggable({ id: `new ${name}`, data: { item, name, isNew: true }, disabled: item === null });
  if (item === null) return null;
  return (
    <li>
      <button type="button" ref={setNodeRef} {...listeners} onClick={() => onPut(item)}>
        <PlusIcon size={14} />
        {name}
      </button>
    </li>
  );
}
