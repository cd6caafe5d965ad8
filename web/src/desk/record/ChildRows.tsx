import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { PlusIcon, XIcon } from '@phosphor-icons/react';
import { isAlignedRight, isStored, listFor, tableOf, type Field, type Relationship } from '@bibliona/core';
import { useRef, type ClipboardEvent } from 'react';
import { useFieldArray, useFormContext } from 'react-hook-form';
import { Link } from 'react-router';
import { useApp, useCircumstances, useRights } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { emptyValues } from './draft.js';
import { FormField } from './FormField.js';
import { pastedCells, typedFromText } from './paste.js';
import type { FormValues } from './use-record-form.js';

/** Records of a child table as rows in their parent's form: added, changed and removed with it in one save. */
export function ChildRows({
  relationship,
  hasMore,
  parentId,
}: {
  readonly relationship: Relationship;
  readonly hasMore: boolean;
  readonly parentId: number | null;
}) {
  const app = useApp();
  const around = useCircumstances();
  const child = tableOf(app.design, relationship.child);
  const rights = useRights(child.id);
  const { control, setValue, getValues } = useFormContext<FormValues>();
  const name = `children.${relationship.id}` as const;
  const { fields: rows, append, remove } = useFieldArray({ control, name, keyName: 'place' });
  const block = useRef<HTMLDivElement>(null);
  // What the list of the child shows is what matters in a row; its other fields stand in its own form.
  const columns = listFor(app.design, child.id).columns.flatMap((id) =>
    child.fields.filter((field) => field.id === id && field.id !== relationship.field && !rights.hidden.includes(id)),
  );
  const blank = () => ({ key: crypto.randomUUID(), id: null, rev: 0, values: { ...emptyValues(app.design, child, around) } });
  const add = (): void => append(blank(), { focusName: `${name}.${rows.length}.values.${columns[0]?.id ?? ''}` as never });
  const removeAt = (i: number): void => {
    remove(i);
    // The focus goes to what takes the row's place, or to the button that adds one.
    requestAnimationFrame(() => {
      const next = block.current?.querySelectorAll<HTMLElement>('.row-remove');
      (next?.[Math.min(i, (next?.length ?? 1) - 1)] ?? block.current?.querySelector<HTMLElement>('.child-add'))?.focus();
    });
  };
  /** Cells copied from a spreadsheet go into this row and those below, which are added as needed. */
  const paste = (event: ClipboardEvent, row: number, column: number): void => {
    const cells = pastedCells(event.clipboardData.getData('text/plain'));
    if (cells === null) return;
    event.preventDefault();
    const all = getValues(name);
    const next = [...all];
    for (const [r, line] of cells.entries()) {
      const target = next[row + r] ?? blank();
      const values = { ...target.values };
      for (const [c, text] of line.entries()) {
        const field = columns[column + c];
        if (field !== undefined && isStored(field) && field.kind !== 'reference') values[field.id] = typedFromText(field, text);
      }
      next[row + r] = { ...target, values };
    }
    setValue(name, next, { shouldDirty: true });
  };
  return (
    <div className="span-12 children" ref={block} role="group" aria-label={relationship.childrenName}>
      <div className="children-head">
        <h2>{relationship.childrenName}</h2>
        <span className="q">
          {rows.length === 0 ? 'none yet' : `${rows.length}${hasMore ? '+' : ''} ${rows.length === 1 ? 'row' : 'rows'}`}
          {hasMore && parentId !== null && (
            <>
              , the first {rows.length} shown; all of them stand in{' '}
              <Link className="lk" to={`/desk/${app.id}/${child.id}`}>
                {child.name}
              </Link>
            </>
          )}
        </span>
      </div>
      {rows.length > 0 && (
        <div className="children-scroll">
          <table className="rows child-rows">
            <thead>
              <tr>
                {columns.map((field) => (
                  <th key={field.id} scope="col" className={isAlignedRight(app.design, child, field) ? 'n' : ''}>
                    {field.name}
                    {field.required && <span className="need"> *</span>}
                  </th>
                ))}
                <th className="tools-col">
                  <span className="vh">Remove</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row, i) => (
                <tr key={row.place}>
                  {columns.map((field: Field, c) => (
                    <td
                      key={field.id}
                      className={`of-${field.kind} ${isAlignedRight(app.design, child, field) ? 'n' : ''}`}
                      data-label={field.name}
                      onPaste={(event) => paste(event, i, c)}
                    >
                      <FormField field={field} name={`${name}.${i}.values.${field.id}`} table={child.id} of={`${relationship.id}.${i}`} isInRow />
                    </td>
                  ))}
                  <td className="tools-col">
                    {(rights.remove || getValues(`${name}.${i}.id`) === null) && (
                      <IconButton className="row-remove" aria-label={`Remove row ${i + 1} of ${relationship.childrenName}`} onClick={() => removeAt(i)}>
                        <XIcon size={14} />
                      </IconButton>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {columns.length === 0 ? (
        <Note kind="look">{child.name} has no fields yet that could stand in a row.</Note>
      ) : (
        rights.add && (
          <Button className="go child-add" startIcon={<PlusIcon />} onClick={add} aria-label={`Add a row to ${relationship.childrenName}`}>
            {relationship.childrenName}
          </Button>
        )
      )}
    </div>
  );
}
