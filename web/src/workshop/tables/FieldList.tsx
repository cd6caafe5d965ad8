import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { DotsSixVerticalIcon, PlusIcon } from '@phosphor-icons/react';
import type { Field, Table } from '@bibliona/core';
import { Fragment, useState } from 'react';
import { Link } from 'react-router';
import { useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { KindIcon } from '../../fields/KindIcon.js';
import { wordsOf } from '../../fields/kinds.js';
import { Note } from '../../ui/Note.js';
import { QuickFields } from './QuickFields.js';

/** The fields in their order, which is dragged by the grip or moved with the keyboard from it. */
export function FieldList({ table }: { readonly table: Table }) {
  const app = useApp();
  const { change } = useDesignChange();
  const [problem, setProblem] = useState<string | null>(null);
  // The row stays where it was dropped while the server is asked.
  const [dropped, setDropped] = useState<readonly Field[] | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const fields = dropped ?? table.fields;
  // After which field new ones are made, and how many fields there were before the first of them.
  const [opening, setOpening] = useState<{ readonly after: string; readonly of: number } | null>(null);
  const drop = async ({ active, over }: DragEndEvent): Promise<void> => {
    const from = fields.findIndex((field) => field.id === active.id);
    const to = fields.findIndex((field) => field.id === over?.id);
    const moved = fields[from];
    if (moved === undefined || to < 0 || from === to) return;
    const rest = fields.filter((field) => field !== moved);
    setDropped([...rest.slice(0, to), moved, ...rest.slice(to)]);
    const outcome = await change({ kind: 'move_field', table: table.id, field: moved.id, to });
    setProblem(outcome === true ? null : outcome.text);
    setDropped(null);
  };
  return (
    <>
      {fields.length === 0 && <p className="q details-none">No fields yet. The first field names each record.</p>}
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={(event) => void drop(event)}>
        <SortableContext items={fields.map((field) => field.id)} strategy={verticalListSortingStrategy}>
          <ul className="fields">
            {fields.map((field, i) => (
              <Fragment key={field.id}>
                <Row
                  field={field}
                  to={`/workshop/${app.id}/tables/${table.id}/fields/${field.id}`}
                  words={wordsOf(field, app.design)}
                  onAdd={i < fields.length - 1 ? () => setOpening({ after: field.id, of: fields.length }) : null}
                />
                {opening?.after === field.id && (
                  <li className="field-between">
                    <QuickFields table={table} at={i + 1 + fields.length - opening.of} onClose={() => setOpening(null)} />
                  </li>
                )}
              </Fragment>
            ))}
          </ul>
        </SortableContext>
      </DndContext>
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </>
  );
}

function Row({ field, to, words, onAdd }: { readonly field: Field; readonly to: string; readonly words: string; readonly onAdd: (() => void) | null }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id: field.id });
  return (
    <li ref={setNodeRef} style={{ transform: CSS.Transform.toString(transform), transition }} className={isDragging ? 'dragging' : ''}>
      <Link to={to}>
        <KindIcon kind={field.kind} />
        <span className="el">
          {field.name}
          {field.required && (
            <span className="need" title="required">
              {' '}
              *
            </span>
          )}
        </span>
        <span className="k">{words}</span>
      </Link>
      {onAdd !== null && (
        <button type="button" className="between" onClick={onAdd} aria-label={`Add a field after ${field.name}`} title="Add a field here">
          <PlusIcon size={10} weight="bold" />
        </button>
      )}
      <button type="button" className="grip" ref={setActivatorNodeRef} {...attributes} {...listeners} aria-label={`Move ${field.name}`}>
        <DotsSixVerticalIcon size={14} />
      </button>
    </li>
  );
}
