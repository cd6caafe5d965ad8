import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { canOrderRows, listFor, mostBelow, otherSide, relationshipOf, tableOf, type FormItemOf, type Table } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { RowFills } from './FilledWith.js';
import type { SettingsProps } from './item-looks.js';
import { OrderedFields } from './OrderedFields.js';
import { besideKey, besideName, listsBeside } from './related.js';

type RowsProps = Pick<SettingsProps<FormItemOf<'children'>>, 'item' | 'onChange'>;

/** What is set of the rows of a form. */
export function RowsSettings({ item, onChange }: RowsProps) {
  const { design } = useApp();
  const { child: id, field } = relationshipOf(design, item.relationship);
  const child = tableOf(design, id);
  return (
    <>
      <OrderedFields
        label="Columns"
        offered={child.fields.filter((each) => each.id !== field)}
        chosen={item.columns ?? []}
        onChange={(columns) => {
          const { columns: _, ...rest } = item;
          onChange(columns.length === 0 ? rest : { ...rest, columns: [...columns] });
        }}
        hint={`Without any, the columns of the list ${listFor(design, id).name}.`}
      />
      <RowFills item={item} onChange={onChange} />
      {otherSide(design, relationshipOf(design, item.relationship)) === null && <RowOrder item={item} child={child} onChange={onChange} />}
      {otherSide(design, relationshipOf(design, item.relationship)) === null && <BelowRows item={item} child={child} onChange={onChange} />}
    </>
  );
}

/** The number by which people put the rows in an order of their own. */
function RowOrder({ item, child, onChange }: RowsProps & { readonly child: Table }) {
  const numbers = child.fields.filter((field) => canOrderRows(child, field));
  return (
    <TextField
      select
      label="Order of the rows"
      value={item.orderedBy ?? ''}
      disabled={numbers.length === 0}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      onChange={({ target }) => {
        const { orderedBy: _, ...rest } = item;
        onChange(target.value === '' ? rest : { ...rest, orderedBy: target.value });
      }}
      helperText={
        numbers.length === 0
          ? `People can move rows if ${child.name} has a whole number for it.`
          : item.orderedBy === undefined
            ? 'With a number of their own, people can move them.'
            : 'Moving a row changes this number: choose one that is there for nothing else.'
      }
    >
      <MenuItem value="">As they were made</MenuItem>
      {numbers.map((field) => (
        <MenuItem key={field.id} value={field.id}>
          By {field.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** The lists of what belongs to the records of the rows. */
function BelowRows({ item, child, onChange }: RowsProps & { readonly child: Table }) {
  const { design } = useApp();
  const lists = listsBeside(design, child);
  if (lists.length === 0) return null;
  const isClear = ({ list }: (typeof lists)[number]): boolean => lists.filter((each) => each.list.name === list.name).length === 1;
  const offered = lists.map((each) => ({ id: besideKey(each.list.id, each.by.id), name: isClear(each) ? each.list.name : besideName(each) }));
  return (
    <OrderedFields
      label="Lists of a row"
      offered={offered}
      chosen={(item.below ?? []).map(({ list, by }) => besideKey(list, by))}
      most={mostBelow}
      onChange={(chosen) => {
        const { below: _, ...rest } = item;
        const below = lists
          .map(({ list, by }) => ({ list: list.id, by: by.id }))
          .filter(({ list, by }) => chosen.includes(besideKey(list, by)))
          .sort((one, other) => chosen.indexOf(besideKey(one.list, one.by)) - chosen.indexOf(besideKey(other.list, other.by)));
        onChange(below.length === 0 ? rest : { ...rest, below });
      }}
      hint="What belongs to a row. It is shown when people press for it."
    />
  );
}
