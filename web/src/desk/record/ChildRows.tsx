import Button from '@mui/material/Button';
import { PlusIcon } from '@phosphor-icons/react';
import { fieldKinds, fieldOf, isStored, listFor, printValue, tableOf, type Field, type FormItemOf, type Relationship } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { lazy, Suspense, useEffect, useRef, useState, type ClipboardEvent, type CSSProperties, type KeyboardEvent } from 'react';
import { useFieldArray, useFormContext, useFormState } from 'react-hook-form';
import { Link } from 'react-router';
import { useApp, useCircumstances, useRights } from '../../state/app.js';
import { recordName, useInUse } from '../../state/live.js';
import { Note } from '../../ui/Note.js';
import { useIsPrinting } from '../../ui/printing.js';
import { ChildRow, type Spot } from './ChildRow.js';
import { emptyValues, valueOf } from './draft.js';
import { pastedCells } from '../../ui/grid/block.js';
import { typedFromText, withoutPasted } from './paste.js';
import { nextPlace, placedAt, placesOf } from './row-order.js';
import { useRowUndo } from './use-row-undo.js';
import { lastEntered } from './beginnings.js';
import type { FormRow, FormValues } from './form-values.js';
import { locale } from '../../state/locale.js';
import { isAlignedRight } from '../../fields/aligned.js';
import { loadLanguage } from '../../state/language.js';
import { useInputsAt, useMarked } from './mark.js';

// Few rows have any.
const BelowRow = lazy(() => import('./BelowRow.js'));

const rowWidthOf = (field: Field): number => field.listWidth ?? fieldKinds[field.kind].traits.rowWidth;

/** So many rows are all drawn: finding those in view takes longer. */
const few = 30;
/** In pixels; what a row is taken for until it has been drawn. */
const rowHeight = 37;
const toolsWidth = 76;
const toolWidth = 30;

/** The row below which more is shown, by relationship and parent: one comes back from a record there to where one was. */
const shownBelow = new Map<string, number>();

/**
 * Records of a child table as rows in their parent's form: added, changed and removed with it in one save. Only the rows in
 * sight are drawn, and only the row that is worked on has inputs: with inputs everywhere, 1,500 rows took 16 s to open.
 */
export function ChildRows({
  relationship,
  item: { columns: asked, below = [], orderedBy },
  hasMore,
  parentId,
}: {
  readonly relationship: Relationship;
  /** How the form shows them. Without columns it shows those of the list of the child. */
  readonly item: Pick<FormItemOf<'children'>, 'columns' | 'below' | 'orderedBy'>;
  readonly hasMore: boolean;
  readonly parentId: number | null;
}) {
  const app = useApp();
  const around = useCircumstances();
  const client = useQueryClient();
  const child = tableOf(app.design, relationship.child);
  const rights = useRights(child.id);
  const { control, setValue, getValues } = useFormContext<FormValues>();
  const name = `children.${relationship.id}` as const;
  const { fields: rows, append, remove, move } = useFieldArray({ control, name, keyName: 'place' });
  const block = useRef<HTMLDivElement>(null);
  const scroll = useRef<HTMLDivElement>(null);
  const [spot, setSpot] = useState<Spot | null>(null);
  // A newer state of the record would take a row away that is on its way.
  const [isAdding, setAdding] = useState(false);
  useInUse(parentId === null ? null : recordName(relationship.parent, parentId), isAdding);
  // Its other fields are in its own form.
  const columns = (asked ?? listFor(app.design, child.id).columns).flatMap((id) =>
    child.fields.filter((field) => field.id === id && field.id !== relationship.field),
  );
  useInputsAt(...columns.map((field) => `${name}.${field.id}`));
  // Of a child that each parent has once there is no second row to add.
  const isFull = fieldOf(child, relationship.field).unique && rows.length > 0;
  const belowKey = `${relationship.id} ${parentId ?? ''}`;
  const [belowOf, setBelowOf] = useState(shownBelow.get(belowKey) ?? null);
  const showBelow = (record: number | null): void => {
    setBelowOf(record);
    if (record === null) shownBelow.delete(belowKey);
    else shownBelow.set(belowKey, record);
  };
  const chosen = belowOf === null ? -1 : rows.findIndex((row) => row.id === belowOf);
  const order = child.fields.find((field) => field.id === orderedBy);
  const canMove = order !== undefined && !hasMore && rows.length > 1 && rights.change && order.fixed !== true && !rights.locked.includes(order.id);
  const tools = toolsWidth + (below.length > 0 ? toolWidth : 0) + (canMove ? toolWidth : 0);
  const isPrinting = useIsPrinting();
  const isShort = isPrinting || rows.length <= few;
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => rowHeight,
    overscan: 6,
    getItemKey: (i) => rows[i]?.place ?? i,
    enabled: !isShort,
  });
  const part = virtual.getVirtualItems();
  const shown = isShort ? rows.map(({ place }, index) => ({ index, key: place })) : part;
  const before = isShort ? 0 : (part[0]?.start ?? 0);
  const after = isShort ? 0 : virtual.getTotalSize() - (part.at(-1)?.end ?? 0);

  const { errors, defaultValues: base } = useFormState({ control });
  const undoing = useRowUndo(base);
  const undo = (): void => {
    if (undoing.change === null) return;
    setSpot(null);
    undoing.forget();
    setValue(name, undoing.change.without(getValues(name)), { shouldDirty: true });
    requestAnimationFrame(() => block.current?.querySelector<HTMLElement>('.child-add')?.focus());
  };

  const goTo = (row: number, column: number): void => {
    if (row < 0 || row >= rows.length) return;
    if (!isShort) virtual.scrollToIndex(row);
    setSpot({ row, column });
  };
  /** Makes rows after others: they begin with default values, and with what was entered last: in a new row before, or else by the person. */
  const begin = async (): Promise<(before: FormRow | undefined) => FormRow> => {
    const [, last] = await Promise.all([loadLanguage(), lastEntered(client, app.id, child)]);
    let number = order === undefined ? 0 : nextPlace(getValues(name), order) - 1;
    return (before) => {
      number += 1;
      const entered = Object.entries(before?.id === null ? before.values : {}).filter(
        ([id, value]) => fieldOf(child, id).startsWithLast && value !== null && value !== '',
      );
      const values = { ...emptyValues(app.design, child, around, last), ...Object.fromEntries(entered) };
      const row = { key: crypto.randomUUID(), id: null, rev: 0, values: { ...values }, begun: values };
      return order === undefined ? row : placedAt(row, order, number);
    };
  };
  const add = async (): Promise<void> => {
    setAdding(true);
    try {
      const blank = await begin();
      append(blank(getValues(name).at(-1)), { shouldFocus: false });
      setSpot({ row: rows.length, column: 0 });
      requestAnimationFrame(() => virtual.scrollToIndex(rows.length));
    } finally {
      setAdding(false);
    }
  };
  const moveTo = (from: number, to: number): void => {
    if (order === undefined || to < 0 || to >= rows.length || from === to) return;
    setSpot(null);
    move(from, to);
    const now = getValues(name);
    for (const [i, number] of placesOf(now, order).entries()) {
      const row = now[i];
      if (row === undefined) continue;
      const { values, begun } = placedAt(row, order, number);
      if (values[order.id] === row.values[order.id]) continue;
      setValue(`${name}.${i}.values`, values, { shouldDirty: true });
      if (begun !== undefined) setValue(`${name}.${i}.begun`, begun);
    }
    if (!isShort) virtual.scrollToIndex(to);
    requestAnimationFrame(() => block.current?.querySelector<HTMLElement>(`tr[data-index="${to}"] .row-grip`)?.focus());
  };
  const removeAt = (i: number): void => {
    setSpot(null);
    const [gone] = getValues(name).slice(i, i + 1);
    if (gone !== undefined) undoing.keep({ message: `Removed ${nameOf(gone, columns[0], i)}.`, without: (now) => [...now.slice(0, i), gone, ...now.slice(i)] });
    remove(i);
    // The focus goes to what takes the row's place, or to the button that adds one.
    requestAnimationFrame(() => {
      const next = block.current?.querySelectorAll<HTMLElement>('.row-remove');
      (next?.[Math.min(i - (shown[0]?.index ?? 0), (next?.length ?? 1) - 1)] ?? block.current?.querySelector<HTMLElement>('.child-add'))?.focus();
    });
  };
  /** Cells copied from a spreadsheet go into this row and those below, which are added as needed. */
  const paste = (event: ClipboardEvent, row: number, column: number): void => {
    const cells = pastedCells(event.clipboardData.getData('text/plain'));
    if (cells === null) return;
    event.preventDefault();
    void begin().then((blank) => fillFrom(blank, cells, row, column));
  };
  const fillFrom = (blank: (before: FormRow | undefined) => FormRow, cells: readonly (readonly string[])[], row: number, column: number): void => {
    const all = getValues(name);
    const next = [...all];
    for (const [r, line] of cells.entries()) {
      const target = next[row + r] ?? blank(next.at(-1));
      const values = { ...target.values };
      for (const [c, text] of line.entries()) {
        const field = columns[column + c];
        const isOpen = field?.fixed !== true || target.id === null;
        if (field !== undefined && isOpen && isStored(field) && field.kind !== 'reference') values[field.id] = typedFromText(field, text);
      }
      next[row + r] = { ...target, values };
    }
    undoing.keep({
      message: `Pasted ${locale().count(cells.length)} ${cells.length === 1 ? 'row' : 'rows'}.`,
      without: withoutPasted(all, next.slice(row, row + cells.length)),
    });
    setValue(name, next, { shouldDirty: true });
  };
  /** Up and down go on in the same column, where the input itself has no use for them. */
  const walk = (event: KeyboardEvent, row: number, column: number): void => {
    // Keys in the menu of an input come here too: it is drawn elsewhere on the page.
    const isElsewhere = !(event.target instanceof Node && event.currentTarget.contains(event.target));
    const isUsed = event.target instanceof HTMLElement && (event.target.role === 'combobox' || event.target.tagName === 'TEXTAREA');
    if (isElsewhere || isUsed || event.ctrlKey || event.altKey || (event.key !== 'ArrowDown' && event.key !== 'ArrowUp')) return;
    event.preventDefault();
    goTo(row + (event.key === 'ArrowDown' ? 1 : -1), column);
  };

  // The first row with something wrong comes into sight, once each time that it is asked for.
  const wrong = firstWrong(errors.children?.[relationship.id]);
  const marked = useMarked();
  const told = useRef(marked);
  useEffect(() => {
    if (wrong === null || marked === undefined || told.current === marked) return;
    told.current = marked;
    // In the middle there is room for what is said below the row.
    virtual.scrollToIndex(wrong.row, { align: 'center' });
    // The focus goes to the first place of all that are wrong.
    if (marked.message?.startsWith(`${name}.`) !== true) return;
    setSpot({
      row: wrong.row,
      column: Math.max(
        0,
        columns.findIndex((field) => field.id === wrong.field),
      ),
    });
  }, [marked, wrong, virtual, columns, name]);

  return (
    <div
      className="span-12 children"
      ref={block}
      role="group"
      aria-label={relationship.childrenName}
      onKeyDown={(event) => {
        // An input undoes what was typed in it.
        const isTyped = event.target instanceof HTMLElement && event.target.matches('input, textarea, [contenteditable]');
        if (undoing.change === null || isTyped || !(event.ctrlKey || event.metaKey) || event.key !== 'z') return;
        event.preventDefault();
        undo();
      }}
    >
      <div className="children-head">
        <h2>{relationship.childrenName}</h2>
        <span className="q">
          {rows.length === 0 ? 'none yet' : `${locale().count(rows.length)}${hasMore ? '+' : ''} ${rows.length === 1 ? 'row' : 'rows'}`}
          {hasMore && parentId !== null && (
            <>
              , the first {locale().count(rows.length)} shown; all of them are in{' '}
              <Link className="lk" to={`/desk/${app.id}/${child.id}`}>
                {child.name}
              </Link>
            </>
          )}
        </span>
        {undoing.change !== null && (
          <span className="undo-row" role="status">
            {undoing.change.message} <Button onClick={undo}>Undo</Button>
          </span>
        )}
      </div>
      {rows.length > 0 && columns.length > 0 && (
        <div className="children-scroll" ref={scroll}>
          <table
            className="rows child-rows"
            aria-rowcount={rows.length + 1}
            style={{ '--least': `${columns.reduce((sum, field) => sum + rowWidthOf(field), tools)}px` } as CSSProperties}
            onBlur={(event) => {
              // Leaving the table leaves the row; a calendar or list that belongs to an input is outside of the table.
              const to = event.relatedTarget;
              if (
                to instanceof HTMLElement &&
                !event.currentTarget.contains(to) &&
                to.closest('.MuiPopover-root, .MuiAutocomplete-popper, .MuiDialog-root') === null
              )
                setSpot(null);
            }}
          >
            <colgroup>
              {columns.map((field) => (
                <col key={field.id} style={{ width: rowWidthOf(field) }} />
              ))}
              <col style={{ width: tools }} />
            </colgroup>
            <thead>
              <tr aria-rowindex={1}>
                {columns.map((field) => (
                  <th key={field.id} scope="col" className={isAlignedRight(app, field) ? 'n' : ''}>
                    {field.name}
                    {field.required && (rights.add || rights.change) && <span className="need"> *</span>}
                  </th>
                ))}
                <th className="tools-col">
                  <span className="vh">Open or remove</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {before > 0 && (
                <tr aria-hidden="true">
                  <td colSpan={columns.length + 1} style={{ height: before, padding: 0 }} />
                </tr>
              )}
              {shown.map((item) => {
                const row = rows[item.index];
                if (row === undefined) return null;
                return (
                  <ChildRow
                    key={row.place}
                    index={item.index}
                    measure={virtual.measureElement}
                    child={child}
                    childrenName={relationship.childrenName}
                    name={`${name}.${item.index}`}
                    of={`${relationship.id}.${item.index}`}
                    record={row.id}
                    columns={columns}
                    spot={spot?.row === item.index ? spot.column : null}
                    onSpot={(column) => setSpot(column === null ? null : { row: item.index, column })}
                    onWalk={(event, column) => walk(event, item.index, column)}
                    onPaste={(event, column) => paste(event, item.index, column)}
                    {...(canMove ? { onMove: (to: number) => moveTo(item.index, to) } : {})}
                    {...(below.length > 0 && row.id !== null
                      ? { below: { isShown: row.id === belowOf, onToggle: () => showBelow(row.id === belowOf ? null : row.id) } }
                      : {})}
                    {...(rights.remove || row.id === null ? { onRemove: () => removeAt(item.index) } : {})}
                  />
                );
              })}
              {after > 0 && (
                <tr aria-hidden="true">
                  <td colSpan={columns.length + 1} style={{ height: after, padding: 0 }} />
                </tr>
              )}
            </tbody>
          </table>
        </div>
      )}
      {columns.length === 0 ? (
        <Note kind="look">{child.name} has no fields yet that a row could show.</Note>
      ) : (
        rights.add &&
        !isFull && (
          <Button className="go child-add" startIcon={<PlusIcon />} onClick={() => void add()} aria-label={`Add a row to ${relationship.childrenName}`}>
            {relationship.childrenName}
          </Button>
        )
      )}
      {belowOf !== null && chosen >= 0 && below.length > 0 && (
        <Suspense>
          <BelowRow key={belowOf} below={below} record={belowOf} name={nameOf(rows[chosen], columns[0], chosen)} onClose={() => showBelow(null)} />
        </Suspense>
      )}
    </div>
  );
}

/** What a row is called: what its first column shows, or its number. */
function nameOf(row: FormRow | undefined, field: Field | undefined, index: number): string {
  const value = field === undefined ? null : valueOf(field, row?.values[field.id] ?? null);
  const text = field === undefined || value?.ok !== true ? '' : printValue(field, value.value, locale());
  return text === '' ? `row ${index + 1}` : text;
}

/** The first row that has a mistake, and the field that it is in; an empty field: the row as a whole is wrong. */
function firstWrong(errors: unknown): { readonly row: number; readonly field: string } | null {
  if (!Array.isArray(errors)) return null;
  for (const [row, error] of (errors as readonly ({ message?: string; values?: Record<string, unknown> } | null | undefined)[]).entries()) {
    // Of a row that was mended the form library keeps an empty entry.
    const field = Object.entries(error?.values ?? {}).find(([, each]) => each !== undefined)?.[0];
    if (field !== undefined || error?.message !== undefined) return { row, field: field ?? '' };
  }
  return null;
}
