import {
  DndContext,
  DragOverlay,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type DragEndEvent,
  type DragMoveEvent,
} from '@dnd-kit/core';
import { MagnifyingGlassIcon } from '@phosphor-icons/react';
import { itemKey, type Form, type FormItem, type Table } from '@bibliona/core';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { useApp } from '../../state/app.js';
import { lookOf } from './item-looks.js';
import { Offered } from './Offered.js';
import { OfferedNew } from './OfferedNew.js';
import { OfferedParents } from './OfferedParents.js';
import { editedItem, fieldsIn, gridWidth, isSized, movedItems, offeredFor, sizedItems, steppedItem, withItem } from './form-draft.js';

interface Props {
  readonly table: Table;
  readonly form: Form;
  readonly chosen: ReadonlySet<string>;
  readonly onChoose: (keys: ReadonlySet<string>) => void;
  readonly onChange: (form: Form) => void;
  readonly onPut: (item: FormItem) => void;
  readonly onRemove: (keys: ReadonlySet<string>) => void;
}

/** What is dragged: something that is put on the form, or items that are on it. */
type Held =
  | { readonly kind: 'new'; readonly item: FormItem; readonly name: string }
  | { readonly kind: 'items'; readonly keys: ReadonlySet<string>; readonly name: string };

const end = 'the end of the form';

/** The form in its grid of twelve columns: dragged and resized with the pointer or with keys, beside what could be put on it. */
export function FormSheet(props: Props) {
  const { table, form, chosen, onChoose, onChange, onPut } = props;
  const app = useApp();
  const [find, setFind] = useState('');
  const [held, setHeld] = useState<Held | null>(null);
  const [to, setTo] = useState<number | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const offered = offeredFor(app.design, table, form).filter((each) => each.name.toLowerCase().includes(find.trim().toLowerCase()));
  const free = table.fields.length - fieldsIn(form).size;

  /** Before which item what is dragged would land; null: nowhere on the form. */
  const landingOf = ({ over, active }: Pick<DragMoveEvent, 'over' | 'active'>): number | null => {
    if (over === null) return null;
    if (over.id === end) return form.items.length;
    const at = form.items.findIndex((item) => itemKey(item) === over.id);
    const mine = active.rect.current.translated;
    if (at < 0 || mine === null) return null;
    // Beside an item it goes by its middle across, above and below one that takes the whole width by its middle down.
    const isWhole = over.rect.width > over.rect.height * 8;
    const isAfter = isWhole
      ? mine.top + mine.height / 2 > over.rect.top + over.rect.height / 2
      : mine.left + mine.width / 2 > over.rect.left + over.rect.width / 2;
    return isAfter ? at + 1 : at;
  };
  const drop = (event: DragEndEvent): void => {
    const at = landingOf(event);
    if (held !== null && at !== null) {
      if (held.kind === 'new') {
        onChange(withItem(form, held.item, at));
        onChoose(new Set([itemKey(held.item)]));
      } else onChange(movedItems(form, held.keys, at));
    }
    setHeld(null);
    setTo(null);
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragStart={({ active }) => {
        const item = active.data.current as { readonly item: FormItem; readonly isNew: boolean; readonly name: string };
        const key = itemKey(item.item);
        setHeld(
          item.isNew
            ? { kind: 'new', item: item.item, name: item.name }
            : { kind: 'items', keys: chosen.has(key) ? chosen : new Set([key]), name: chosen.has(key) && chosen.size > 1 ? `${chosen.size} items` : item.name },
        );
      }}
      onDragMove={(event) => setTo(landingOf(event))}
      onDragEnd={drop}
      onDragCancel={() => (setHeld(null), setTo(null))}
    >
      <div className="form-bench">
        <div className="offered" role="group" aria-label="What can be put on the form">
          <OfferedNew table={table} form={form} onPut={onPut} />
          <label className="inp find">
            <MagnifyingGlassIcon size={14} />
            <input
              type="search"
              className="bare-input"
              value={find}
              onChange={(event) => setFind(event.target.value)}
              placeholder="Find a field"
              aria-label="Find a field"
            />
          </label>
          <ul>
            {offered.map((each) => (
              <Offered key={itemKey(each.item)} {...each} onPut={() => onPut(each.item)} />
            ))}
            <OfferedParents form={form} table={table} through={[]} find={find.trim().toLowerCase()} onPut={onPut} />
          </ul>
          <p className="q sm">
            {free === 0 ? 'Every field is on the form.' : `${free === 1 ? 'One field is' : `${free} fields are`} not on the form. Drag one, or press it.`}
          </p>
        </div>
        <div className="form-page" onClick={(event) => event.target === event.currentTarget && onChoose(new Set())}>
          <div className={form.labelsBeside === true ? 'form-grid beside' : 'form-grid'} role="group" aria-label="Form">
            {form.items.map((item, i) => (
              <Placed key={itemKey(item)} {...props} item={item} isBefore={to === i} isAfter={to === form.items.length && i === form.items.length - 1} />
            ))}
          </div>
          <End isEmpty={form.items.length === 0} />
        </div>
      </div>
      <DragOverlay dropAnimation={null}>{held !== null && <span className="held-item">{held.name}</span>}</DragOverlay>
    </DndContext>
  );
}

/** Below all items: what is dropped there becomes the last. */
function End({ isEmpty }: { readonly isEmpty: boolean }) {
  const { setNodeRef, isOver } = useDroppable({ id: end });
  return (
    <div ref={setNodeRef} className={isOver ? 'form-end over' : 'form-end'}>
      {isEmpty && 'Drag fields here, or press them at the left.'}
    </div>
  );
}

/** An item in its place: chosen by a press, several with Ctrl or Shift; arrows move it, with Shift they change its width. */
function Placed(props: Props & { readonly item: FormItem; readonly isBefore: boolean; readonly isAfter: boolean }) {
  const { table, form, chosen, onChoose, onChange, onRemove, item, isBefore, isAfter } = props;
  const key = itemKey(item);
  const isChosen = chosen.has(key);
  const name = useNameOf(item, table);
  const { noun, renamed, Picture } = lookOf(item);
  const [isNaming, setNaming] = useState(false);
  const box = useRef<HTMLDivElement | null>(null);
  const drag = useDraggable({ id: key, data: { item, name, isNew: false }, disabled: isNaming });
  const { setNodeRef: setDropRef } = useDroppable({ id: key });
  const width = isSized(item) ? item.width : gridWidth;
  const all = (): ReadonlySet<string> => (isChosen ? chosen : new Set([key]));
  const onKey = (event: KeyboardEvent): void => {
    if (event.target !== event.currentTarget) return;
    const by = event.key === 'ArrowLeft' || event.key === 'ArrowUp' ? -1 : event.key === 'ArrowRight' || event.key === 'ArrowDown' ? 1 : null;
    if (by !== null && event.shiftKey) onChange(sizedItems(form, all(), width + by));
    else if (by !== null) onChange(steppedItem(form, key, by));
    else if (event.key === 'Delete' || event.key === 'Backspace') onRemove(all());
    else if (event.key === 'Enter' || event.key === ' ') onChoose(new Set([key]));
    else if (event.key === 'F2' && renamed !== null) setNaming(true);
    else return;
    event.preventDefault();
  };
  return (
    <div
      ref={(element) => {
        drag.setNodeRef(element);
        setDropRef(element);
        box.current = element;
      }}
      {...drag.listeners}
      data-kind={item.kind}
      className={`placed ${isChosen ? 'on' : ''} ${isBefore ? 'before' : ''} ${isAfter ? 'after' : ''} ${drag.isDragging ? 'dragged' : ''}`}
      style={{ gridColumn: `span ${width}` }}
      role="group"
      aria-label={`${noun} ${name}${isSized(item) ? `, ${width} of 12 wide` : ''}`}
      aria-current={isChosen ? 'true' : undefined}
      tabIndex={0}
      onClick={(event) => {
        if (!(event.ctrlKey || event.metaKey || event.shiftKey)) return onChoose(new Set([key]));
        const next = new Set(chosen);
        if (!next.delete(key)) next.add(key);
        onChoose(next);
      }}
      onDoubleClick={() => renamed !== null && setNaming(true)}
      onKeyDown={onKey}
    >
      {isNaming && renamed !== null ? (
        <Naming
          name={name}
          onEnd={(text) => {
            setNaming(false);
            if (text !== null) onChange(editedItem(form, renamed(item, text)));
            box.current?.focus();
          }}
        />
      ) : (
        <Picture table={table} item={item} name={name} />
      )}
      {isSized(item) && <Handle box={box} width={width} onWidth={(next) => onChange(sizedItems(form, all(), next))} />}
    </div>
  );
}

/** What an item is called on the form. */
export function useNameOf(item: FormItem, table: Table): string {
  const { design } = useApp();
  return lookOf(item).name(item, table, design);
}

function Naming({ name, onEnd }: { readonly name: string; readonly onEnd: (text: string | null) => void }) {
  const [text, setText] = useState(name);
  const hasEnded = useRef(false);
  const finish = (result: string | null): void => {
    if (hasEnded.current) return;
    hasEnded.current = true;
    onEnd(result);
  };
  return (
    <input
      className="naming"
      aria-label="Label"
      value={text}
      autoFocus
      onChange={(event) => setText(event.target.value)}
      onBlur={() => finish(text.trim() === name ? null : text.trim())}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') finish(text.trim());
        if (event.key === 'Escape') finish(null);
      }}
      onPointerDown={(event) => event.stopPropagation()}
    />
  );
}

/** The edge by which the width of an item is drawn; keys change it from the item itself. */
function Handle({
  box,
  width,
  onWidth,
}: {
  readonly box: { readonly current: HTMLDivElement | null };
  readonly width: number;
  readonly onWidth: (width: number) => void;
}) {
  const begin = (event: PointerEvent<HTMLSpanElement>): void => {
    event.stopPropagation();
    event.preventDefault();
    const element = box.current;
    if (element === null) return;
    const column = element.getBoundingClientRect().width / width;
    const from = event.clientX;
    const handle = event.currentTarget;
    handle.setPointerCapture(event.pointerId);
    const move = (next: globalThis.PointerEvent): void => onWidth(width + (next.clientX - from) / column);
    const stop = (): void => {
      handle.removeEventListener('pointermove', move);
      handle.removeEventListener('pointerup', stop);
      handle.removeEventListener('pointercancel', stop);
    };
    handle.addEventListener('pointermove', move);
    handle.addEventListener('pointerup', stop);
    handle.addEventListener('pointercancel', stop);
  };
  return <span className="placed-handle" aria-hidden="true" onPointerDown={begin} onClick={(event) => event.stopPropagation()} />;
}
