import { useDraggable } from '@dnd-kit/core';
import { ListBulletsIcon } from '@phosphor-icons/react';
import { itemKey, type Field, type FormItem } from '@bibliona/core';
import { KindIcon } from '../../fields/KindIcon.js';

/** Something that can be put on the form: dragged there, or pressed. */
export function Offered(props: {
  readonly item: FormItem;
  readonly name: string;
  /** The reference that leads to the record whose field it is. */
  readonly of?: string;
  /** Of a field; absent: it is a list. */
  readonly kind?: Field['kind'];
  readonly isFree: boolean;
  readonly onPut: () => void;
}) {
  const { item, name, of, kind, isFree, onPut } = props;
  const { setNodeRef, listeners } = useDraggable({ id: `new ${itemKey(item)}`, data: { item, name, isNew: true }, disabled: !isFree });
  const whole = of === undefined ? name : `${name} of its ${of}`;
  return (
    <li>
      <button
        type="button"
        ref={setNodeRef}
        {...listeners}
        disabled={!isFree}
        onClick={onPut}
        aria-label={isFree ? `Put ${whole} on the form` : `${whole} is on the form`}
      >
        {kind === undefined ? <ListBulletsIcon size={14} /> : <KindIcon kind={kind} />}
        <span className="el">{name}</span>
      </button>
    </li>
  );
}
