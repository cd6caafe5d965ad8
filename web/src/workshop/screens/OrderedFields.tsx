import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { DotsSixVerticalIcon, XIcon } from '@phosphor-icons/react';
import type { ReactNode } from 'react';

interface Named {
  readonly id: string;
  readonly name: string;
}

/** Some of the fields of a table in an order of their own: added, dragged by the grip or moved with keys from it, and taken out. */
export function OrderedFields(props: {
  readonly label: string;
  readonly offered: readonly Named[];
  /** By their ids. */
  readonly chosen: readonly string[];
  readonly onChange: (chosen: readonly string[]) => void;
  readonly most?: number;
  readonly hint?: string;
  /** What else is set of each. */
  readonly more?: (id: string) => ReactNode;
}) {
  const { label, offered, chosen, onChange, most = Number.POSITIVE_INFINITY, hint, more } = props;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const rows = chosen.flatMap((id) => offered.filter((named) => named.id === id));
  const free = offered.filter((named) => !chosen.includes(named.id));
  return (
    <div className="ordered-fields" role="group" aria-label={label}>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          const to = over === null ? -1 : chosen.indexOf(String(over.id));
          if (to < 0 || active.id === over?.id) return;
          const rest = chosen.filter((id) => id !== active.id);
          onChange([...rest.slice(0, to), String(active.id), ...rest.slice(to)]);
        }}
      >
        <SortableContext items={rows.map((row) => row.id)} strategy={verticalListSortingStrategy}>
          <ul>
            {rows.map((row) => (
              <Row key={row.id} name={row.name} id={row.id} onRemove={() => onChange(chosen.filter((id) => id !== row.id))}>
                {more?.(row.id)}
              </Row>
            ))}
          </ul>
        </SortableContext>
      </DndContext>
      {free.length > 0 && rows.length < most && (
        <TextField select label={`Add to: ${label}`} value="" onChange={(event) => onChange([...chosen, event.target.value])}>
          {free.map((named) => (
            <MenuItem key={named.id} value={named.id}>
              {named.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {hint !== undefined && <p className="q sm">{hint}</p>}
    </div>
  );
}

function Row({ id, name, onRemove, children }: { readonly id: string; readonly name: string; readonly onRemove: () => void; readonly children: ReactNode }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id });
  return (
    <li ref={setNodeRef} style={{ transform: CSS.Transform.toString(transform), transition }} className={isDragging ? 'dragging' : ''}>
      <button type="button" ref={setActivatorNodeRef} {...attributes} {...listeners} className="hold" aria-label={`Move ${name}`}>
        <DotsSixVerticalIcon size={14} />
      </button>
      <span className="el">{name}</span>
      {children}
      <IconButton aria-label={`Take out ${name}`} onClick={onRemove}>
        <XIcon size={14} />
      </IconButton>
    </li>
  );
}
