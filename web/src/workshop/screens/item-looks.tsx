/** What is on a form, as it is designed: one row here for each kind of item. */
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { isFillable, isOpenInPlace, relationshipOf, tableOf, type AppDesign, type FormItem, type FormItemOf, type Table } from '@bibliona/core';
import type { ComponentType } from 'react';
import { KindIcon } from '../../fields/KindIcon.js';
import { useApp } from '../../state/app.js';
import { ConditionEditor } from '../expression/ConditionEditor.js';
import { ButtonSettings } from './ButtonSettings.js';
import { withText } from './form-draft.js';
import { FilledWith } from './FilledWith.js';
import { ImagePicture, ImageSettings } from './ImageSettings.js';
import { RowsSettings } from './RowsSettings.js';
import { besideKey, besideName, listsBeside, parentPath } from './related.js';

interface PictureProps<I> {
  readonly item: I;
  readonly table: Table;
  readonly name: string;
}
export interface SettingsProps<I> {
  readonly item: I;
  readonly table: Table;
  readonly onChange: (item: I) => void;
}

interface ItemLook<I> {
  /** What it is called where it is placed, and over its settings. */
  readonly noun: string;
  readonly name: (item: I, table: Table, design: AppDesign) => string;
  /** The item with another label; null: that is decided elsewhere. */
  readonly renamed: ((item: I, text: string) => I) | null;
  readonly Picture: ComponentType<PictureProps<I>>;
  readonly Settings: ComponentType<SettingsProps<I>>;
}

const looks: { readonly [K in FormItem['kind']]: ItemLook<FormItemOf<K>> } = {
  field: {
    noun: 'Field',
    name: (item, table) => item.label ?? table.fields.find((field) => field.id === item.field)?.name ?? '',
    renamed: (item, text) => withText(item, 'label', text),
    Picture: FieldPicture,
    Settings: FieldSettings,
  },
  children: {
    noun: 'Rows',
    name: (item, _, design) => relationshipOf(design, item.relationship).childrenName,
    renamed: null,
    Picture: ({ item, name }) => {
      const { design } = useApp();
      return <RowsPicture name={name} summary={`Rows of ${tableOf(design, relationshipOf(design, item.relationship).child).name}`} item={item} />;
    },
    Settings: (props) => (
      <>
        <RowsSettings {...props} />
        <ShownIf {...props} />
      </>
    ),
  },
  heading: {
    noun: 'Section',
    name: (item) => item.text,
    renamed: (item, text) => (text === '' ? item : { ...item, text }),
    Picture: ({ name }) => <h2>{name}</h2>,
    Settings: ({ item, onChange }) => <TextField label="Heading" value={item.text} onChange={(event) => onChange({ ...item, text: event.target.value })} />,
  },
  text: {
    noun: 'Text',
    name: (item) => item.text,
    renamed: (item, text) => (text === '' ? item : { ...item, text }),
    Picture: ({ name }) => <p>{name}</p>,
    Settings: ({ item, onChange }) => (
      <TextField label="Text" value={item.text} onChange={(event) => onChange({ ...item, text: event.target.value })} multiline minRows={3} />
    ),
  },
  image: {
    noun: 'Image',
    name: (item) => (item.alt === '' ? (item.file?.name ?? 'Image') : item.alt),
    renamed: null,
    Picture: ImagePicture,
    Settings: ImageSettings,
  },
  tab: {
    noun: 'Tab',
    name: (item) => item.name,
    renamed: (item, text) => (text === '' ? item : { ...item, name: text }),
    Picture: ({ name }) => <b className="tab-mark">{name}</b>,
    Settings: ({ item, onChange }) => (
      <TextField
        label="Name"
        value={item.name}
        onChange={(event) => onChange({ ...item, name: event.target.value })}
        helperText="What follows is on this tab, up to the next one."
      />
    ),
  },
  parent: {
    noun: 'Field of another record',
    name: (item, table, design) => item.label ?? parentPath(design, table, item).field?.name ?? '',
    renamed: (item, text) => withText(item, 'label', text),
    Picture: ({ item, table, name }) => {
      const { design } = useApp();
      const { field, names } = parentPath(design, table, item);
      return (
        <>
          <span className="placed-label">
            {name} <i className="q sm">of its {names.join(', ')}</i>
            <Conditions item={item} />
          </span>
          <span className={item.inPlace === true ? 'placed-input' : 'placed-input computed'}>{field !== undefined && <KindIcon kind={field.kind} />}</span>
        </>
      );
    },
    Settings: (props) => {
      const { design } = useApp();
      const { item, onChange } = props;
      const { field, names, owner } = parentPath(design, props.table, item);
      const isInPlace = item.inPlace === true;
      return (
        <>
          <LabelField {...props} fallback={field?.name ?? ''} />
          <p className="q sm">
            {field?.name} of its {names.join(', then of its ')}.{' '}
            {isInPlace
              ? `It is saved together with the record of this form, by those who can change ${owner.name}.`
              : 'It is read here and changed where it belongs.'}
          </p>
          {field !== undefined && isOpenInPlace(design, field) && (
            <FormControlLabel
              control={
                <Checkbox
                  checked={isInPlace}
                  onChange={(event) => {
                    const { inPlace: _, ...rest } = item;
                    onChange(event.target.checked ? { ...rest, inPlace: true } : rest);
                  }}
                />
              }
              label="Can be changed here"
            />
          )}
          <ShownIf {...props} />
        </>
      );
    },
  },
  list: {
    noun: 'List',
    name: (item, _, design) => design.lists.find((list) => list.id === item.list)?.name ?? '',
    renamed: null,
    Picture: ({ item, name }) => {
      const { design } = useApp();
      const list = design.lists.find((each) => each.id === item.list);
      return (
        <RowsPicture
          name={name}
          summary={`${list?.arrangement.kind === 'chart' ? 'A chart of records' : 'Records'} of ${list === undefined ? '' : tableOf(design, list.table).name}, to open`}
          item={item}
        />
      );
    },
    Settings: ListSettings,
  },
  button: {
    noun: 'Button',
    name: (item) => item.name,
    renamed: (item, text) => (text === '' ? item : { ...item, name: text }),
    Picture: ({ item, name }) => (
      <>
        <span className="placed-button">{name}</span>
        <Conditions item={item} />
      </>
    ),
    Settings: (props) => (
      <>
        <ButtonSettings {...props} />
        <ShownIf {...props} />
      </>
    ),
  },
};
export const lookOf = (item: FormItem): ItemLook<FormItem> => looks[item.kind] as unknown as ItemLook<FormItem>;

function FieldPicture({ item, table, name }: PictureProps<FormItemOf<'field'>>) {
  const field = table.fields.find((each) => each.id === item.field);
  if (field === undefined) return null;
  return (
    <>
      <span className="placed-label">
        {name}
        {field.required && <span className="need"> *</span>}
        <Conditions item={item} />
      </span>
      <span className={field.kind === 'formula' ? 'placed-input computed' : 'placed-input'}>
        <KindIcon kind={field.kind} />
      </span>
    </>
  );
}

function RowsPicture({ name, summary, item }: { readonly name: string; readonly summary: string; readonly item: FormItemOf<'children' | 'list'> }) {
  return (
    <>
      <h2>{name}</h2>
      <span className="q sm">{summary}</span>
      <Conditions item={item} />
    </>
  );
}

type Conditional = Extract<FormItem, { shownIf?: string | undefined }>;

/** That something of an item depends on what is in the form. */
function Conditions({ item }: { readonly item: Conditional }) {
  const settings = [
    item.shownIf !== undefined && 'not always shown',
    item.kind === 'field' && item.requiredIf !== undefined && 'sometimes required',
    item.kind === 'field' && item.readOnlyIf !== undefined && 'sometimes read-only',
    item.kind === 'field' && item.fill !== undefined && 'filled by a formula',
  ].filter((each) => each !== false);
  return settings.length === 0 ? null : <i className="q sm"> {settings.join(', ')}</i>;
}

function ShownIf<I extends Conditional>({ item, table, onChange }: SettingsProps<I>) {
  const { design } = useApp();
  return (
    <ConditionEditor
      label="Shown only where"
      value={item.shownIf ?? ''}
      onChange={(text) => onChange(withText(item, 'shownIf', text))}
      scope={{ design, table: table.id }}
      hint="Without a condition it is always shown."
    />
  );
}

function LabelField<I extends FormItemOf<'field' | 'parent'>>({ item, onChange, fallback }: SettingsProps<I> & { readonly fallback: string }) {
  return (
    <TextField
      label="Label"
      value={item.label ?? ''}
      placeholder={fallback}
      onChange={(event) => onChange(withText(item, 'label', event.target.value))}
      helperText="Empty: the name of the field."
    />
  );
}

function FieldSettings(props: SettingsProps<FormItemOf<'field'>>) {
  const { item, table, onChange } = props;
  const { design } = useApp();
  const scope = { design, table: table.id };
  const field = table.fields.find((each) => each.id === item.field);
  return (
    <>
      <LabelField {...props} fallback={field?.name ?? ''} />
      <ShownIf {...props} />
      {field !== undefined && field.kind !== 'formula' && (
        <>
          {!field.required && (
            <ConditionEditor
              label="Required where"
              value={item.requiredIf ?? ''}
              onChange={(text) => onChange(withText(item, 'requiredIf', text))}
              scope={scope}
              hint="Holds in this form. What must always hold is a check of the table."
            />
          )}
          <ConditionEditor
            label="Read-only where"
            value={item.readOnlyIf ?? ''}
            onChange={(text) => onChange(withText(item, 'readOnlyIf', text))}
            scope={scope}
            hint="Holds in this form. Permissions say who can change a field at all."
          />
          {isFillable(field) && (
            <FilledWith
              table={table.id}
              field={field}
              value={item.fill ?? ''}
              label="Filled with"
              onChange={(text) => onChange(withText(item, 'fill', text))}
            />
          )}
        </>
      )}
    </>
  );
}

/** How many records a list on a form can show at once. */
const rowsOffered = [5, 10, 20, 50, 100] as const;

function ListSettings(props: SettingsProps<FormItemOf<'list'>>) {
  const { item, table, onChange } = props;
  const { design } = useApp();
  const offered = listsBeside(design, table);
  const isChart = design.lists.find((list) => list.id === item.list)?.arrangement.kind === 'chart';
  return (
    <>
      <TextField
        select
        label="List"
        value={besideKey(item.list, item.by)}
        onChange={(event) => {
          const chosen = offered.find((each) => besideKey(each.list.id, each.by.id) === event.target.value);
          if (chosen !== undefined) onChange({ ...item, list: chosen.list.id, by: chosen.by.id });
        }}
        helperText={isChart ? 'Its chart and condition are those of the list.' : 'Its columns, order and condition are those of the list.'}
      >
        {offered.map((each) => (
          <MenuItem key={besideKey(each.list.id, each.by.id)} value={besideKey(each.list.id, each.by.id)}>
            {besideName(each)}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="Records at first"
        disabled={isChart}
        value={item.rows}
        onChange={(event) => onChange({ ...item, rows: Number(event.target.value) })}
      >
        {[...new Set([...rowsOffered, item.rows])]
          .sort((row, other) => row - other)
          .map((rows) => (
            <MenuItem key={rows} value={rows}>
              {rows}
            </MenuItem>
          ))}
      </TextField>
      <ShownIf {...props} />
    </>
  );
}
