import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { TrashIcon } from '@phosphor-icons/react';
import { afterAdding, formSizes, itemKey, type Form, type FormItem, type Table } from '@bibliona/core';
import { DetailsHead } from '../parts/DetailsHead.js';
import { useNameOf } from './FormSheet.js';
import { editedItem, gridWidth, inColumns, isSized, sideBySide, sizedItems, withText } from './form-draft.js';
import { lookOf } from './item-looks.js';
import { PublicSettings } from './PublicSettings.js';
import { ScreenSettings } from './ScreenSettings.js';

interface Props {
  readonly table: Table;
  readonly form: Form;
  /** The form as it was saved last. */
  readonly saved: Form;
  readonly chosen: ReadonlySet<string>;
  readonly onChange: (form: Form) => void;
  readonly onChoose: (keys: ReadonlySet<string>) => void;
  readonly onRemoveItems: (keys: ReadonlySet<string>) => void;
  /** Null: every table keeps the form that it opens with. */
  readonly onRemove: (() => void) | null;
}

const sizeWords: Readonly<Record<(typeof formSizes)[number], string>> = { narrow: 'Narrow', medium: 'Medium' };
const afterWords: Readonly<Record<(typeof afterAdding)[number], string>> = {
  open: 'Open the record',
  new: 'An empty form for the next',
  list: 'Back to the list',
};

/** The settings of the form, or of what is chosen on it. */
export function FormDetails(props: Props) {
  const { form, chosen } = props;
  const items = form.items.filter((item) => chosen.has(itemKey(item)));
  const [only] = items;
  if (only === undefined) return <WholeForm {...props} />;
  if (items.length > 1) return <SeveralItems {...props} items={items} />;
  return <OneItem key={itemKey(only)} {...props} item={only} />;
}

function WholeForm({ form, saved, onChange, onRemove }: Props) {
  const set = (part: Partial<Form>): void => onChange({ ...form, ...part });
  return (
    <>
      <DetailsHead kind="Form" title={form.name} of={{ to: 'form', id: form.id }} />
      <div className="details-body details-form">
        <ScreenSettings screen={form} what="form" isOpening={onRemove === null} onChange={set} />
        <FormControlLabel
          control={
            <Checkbox
              checked={form.labelsBeside === true}
              onChange={(event) => {
                const { labelsBeside: _, ...rest } = form;
                onChange(event.target.checked ? { ...rest, labelsBeside: true } : rest);
              }}
            />
          }
          label="Labels beside the inputs"
        />
        <TextField
          select
          label="Records open"
          value={form.inWindow === true ? 'window' : 'page'}
          onChange={(event) => {
            const { inWindow: _, ...rest } = form;
            onChange(event.target.value === 'window' ? { ...rest, inWindow: true } : rest);
          }}
          helperText={form.inWindow === true ? 'On a phone they have a page of their own.' : undefined}
        >
          <MenuItem value="page">On a page of their own</MenuItem>
          <MenuItem value="window">In a window over the list</MenuItem>
        </TextField>
        <FormControlLabel
          control={
            <Checkbox
              checked={form.readFirst === true}
              onChange={(event) => {
                const { readFirst: _, ...rest } = form;
                onChange(event.target.checked ? { ...rest, readFirst: true } : rest);
              }}
            />
          }
          label="Records are read first"
        />
        {form.readFirst === true && <p className="q sm">A press on Change makes the record a form. A new record is one at once.</p>}
        <TextField
          select
          label="Width of the form"
          value={form.size ?? 'whole'}
          onChange={(event) => {
            const { size: _, ...rest } = form;
            const size = formSizes.find((each) => each === event.target.value);
            onChange(size === undefined ? rest : { ...rest, size });
          }}
        >
          <MenuItem value="whole">All the space there is</MenuItem>
          {formSizes.map((size) => (
            <MenuItem key={size} value={size}>
              {sizeWords[size]}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Fields side by side"
          value={sideBySide(form) ?? ''}
          onChange={(event) => onChange(inColumns(form, Number(event.target.value)))}
          helperText="Sets the width of every field. Each can have another one."
        >
          {[1, 2, 3, 4].map((columns) => (
            <MenuItem key={columns} value={columns}>
              {columns === 1 ? 'One below the other' : columns}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="After a new record is saved"
          value={form.afterAdding ?? 'open'}
          onChange={(event) => set({ afterAdding: event.target.value as (typeof afterAdding)[number] })}
        >
          {afterAdding.map((each) => (
            <MenuItem key={each} value={each}>
              {afterWords[each]}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label="Message after that"
          value={form.thanks ?? ''}
          onChange={(event) => onChange(withText(form, 'thanks', event.target.value))}
          multiline
          helperText="Shown where the form or the list comes next."
        />
        <PublicSettings form={form} saved={saved} onChange={onChange} />
        <p className="q sm">
          Choose something on the form to see its settings. Arrow keys move it, Shift and an arrow key change its width, F2 its label, Delete takes it off.
        </p>
        {onRemove !== null && (
          <div className="details-foot">
            <Button startIcon={<TrashIcon />} onClick={onRemove}>
              Remove form
            </Button>
          </div>
        )}
      </div>
    </>
  );
}

function WidthField({ width, onWidth }: { readonly width: number; readonly onWidth: (width: number) => void }) {
  return (
    <TextField
      select
      label="Width"
      value={width}
      onChange={(event) => onWidth(Number(event.target.value))}
      helperText="Of twelve columns. On a phone two narrow fields share a row."
    >
      {Array.from({ length: gridWidth }, (_, i) => i + 1).map((each) => (
        <MenuItem key={each} value={each}>
          {each}
          {each === 12 ? ', the whole width' : each === 6 ? ', half' : each === 4 ? ', a third' : each === 3 ? ', a quarter' : ''}
        </MenuItem>
      ))}
    </TextField>
  );
}

function SeveralItems({ form, items, chosen, onChange, onChoose, onRemoveItems }: Props & { readonly items: readonly FormItem[] }) {
  const sized = items.filter(isSized);
  return (
    <>
      <DetailsHead kind="On the form" title={`${items.length} items`} />
      <div className="details-body details-form">
        {sized[0] !== undefined && <WidthField width={sized[0].width} onWidth={(width) => onChange(sizedItems(form, chosen, width))} />}
        <div className="details-foot">
          <Button onClick={() => onChoose(new Set())}>To the form</Button>
          <Button startIcon={<TrashIcon />} onClick={() => onRemoveItems(chosen)}>
            Take {items.length} items off the form
          </Button>
        </div>
      </div>
    </>
  );
}

function OneItem({ table, form, item, onChange, onChoose, onRemoveItems }: Props & { readonly item: FormItem }) {
  const name = useNameOf(item, table);
  const { noun, Settings } = lookOf(item);
  const set = (next: FormItem): void => onChange(editedItem(form, next));
  return (
    <>
      <DetailsHead kind={`${noun} on the form`} title={name} />
      <div className="details-body details-form">
        {isSized(item) && <WidthField width={item.width} onWidth={(width) => set({ ...item, width })} />}
        <Settings key={itemKey(item)} item={item} table={table} onChange={set} />
        <div className="details-foot">
          <Button onClick={() => onChoose(new Set())}>To the form</Button>
          <Button startIcon={<TrashIcon />} onClick={() => onRemoveItems(new Set([itemKey(item)]))}>
            Take it off the form
          </Button>
        </div>
      </div>
    </>
  );
}
