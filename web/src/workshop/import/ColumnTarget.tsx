import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import {
  canMake,
  fieldKinds,
  linksOf,
  newKinds,
  otherSide,
  suggestField,
  type ColumnPlan,
  type FieldKind,
  type FileSurvey,
  type Reading,
} from '@bibliona/core';
import { newId, useApp } from '../../state/app.js';

const numberNames = { point: '1,234.50', comma: '1.234,50', space_point: '1 234.50', space_comma: '1 234,50' } as const;
const dateNames = { dmy: 'day first: 31/12/2026', mdy: 'month first: 12/31/2026', ymd: 'year first: 2026/12/31' } as const;
/** Means the record number in the list of field ids. No field id can start with this sign. */
const recordNumber = '#';

/** What a column goes into, where no second one can. */
export const targetOf = (plan: ColumnPlan): readonly string[] =>
  plan.kind === 'field' ? [plan.field] : plan.kind === 'link' ? [plan.relationship] : plan.kind === 'record' ? [recordNumber] : [];

interface TargetProps {
  readonly column: FileSurvey['columns'][number];
  readonly plan: ColumnPlan;
  readonly tableId: string | null;
  /** The table that a new field is in, where the file becomes several. */
  readonly home: string | null;
  /** Fields that other columns go into. */
  readonly used: readonly string[];
  readonly onChange: (plan: ColumnPlan) => void;
}

/** What becomes of one column of the file: the cells of its row that can be chosen. */
export function ColumnTarget({ column, plan, tableId, home, used, onChange }: TargetProps) {
  const { design } = useApp();
  const table = design.tables.find((each) => each.id === tableId);
  const links = tableId === null ? [] : linksOf(design, tableId);
  const link = plan.kind === 'link' ? links.find((each) => each.id === plan.relationship) : undefined;
  const reading: Reading = plan.kind === 'field' || plan.kind === 'new' ? plan.reading : column.reading;
  const field = plan.kind === 'new' ? plan.field : plan.kind === 'field' ? table?.fields.find((each) => each.id === plan.field) : undefined;
  const choose = (value: string): void => {
    if (value === '-') onChange({ kind: 'skip' });
    else if (value === recordNumber) onChange({ kind: 'record' });
    else if (value === '+') onChange({ kind: 'new', field: suggestField(column, () => newId('f'), design.region), reading });
    else
      onChange(links.some((each) => each.id === value) ? { kind: 'link', relationship: value } : { kind: 'field', field: value, reading, missing: 'complain' });
  };
  const asks = field === undefined ? null : fieldKinds[field.kind].cells.reading;
  const changeKind = (kind: FieldKind): void => {
    if (plan.kind !== 'new') return;
    // The survey's own choices and digits serve whichever kind is taken instead.
    const other = suggestField({ ...column, kind, choices: column.choices.length > 0 ? column.choices : column.samples }, () => plan.field.id, design.region);
    onChange({ ...plan, field: { ...other, name: plan.field.name } });
  };
  return (
    <>
      <td>
        <TextField
          select
          hiddenLabel
          value={targetOf(plan)[0] ?? (plan.kind === 'new' ? '+' : '-')}
          onChange={(event) => choose(event.target.value)}
          slotProps={{ select: { SelectDisplayProps: { 'aria-label': `${column.name} goes into` } } }}
        >
          <MenuItem value="+">{home === null ? 'a new field' : `a new field of ${home}`}</MenuItem>
          {table?.fields.map((each) => (
            <MenuItem key={each.id} value={each.id} disabled={used.includes(each.id)}>
              {each.name}
              {each.required ? ' *' : ''}
            </MenuItem>
          ))}
          {links.map((each) => (
            <MenuItem key={each.id} value={each.id} disabled={used.includes(each.id)}>
              {each.childrenName}
            </MenuItem>
          ))}
          {table !== undefined && (
            <MenuItem value={recordNumber} disabled={used.includes(recordNumber)}>
              the record number
            </MenuItem>
          )}
          <MenuItem value="-">don't import</MenuItem>
        </TextField>
        {plan.kind === 'new' && (
          <TextField
            hiddenLabel
            value={plan.field.name}
            onChange={(event) => onChange({ ...plan, field: { ...plan.field, name: event.target.value } })}
            error={plan.field.name.trim() === ''}
            slotProps={{ htmlInput: { 'aria-label': `Name of the field for ${column.name}`, maxLength: 60 } }}
          />
        )}
      </td>
      <td>
        {plan.kind === 'new' ? (
          <TextField
            select
            hiddenLabel
            value={plan.field.kind}
            onChange={(event) => changeKind(event.target.value as FieldKind)}
            slotProps={{ select: { SelectDisplayProps: { 'aria-label': `Kind of ${column.name}` } } }}
          >
            {newKinds.map((kind) => (
              <MenuItem key={kind} value={kind} disabled={kind === 'choice' && column.choices.length === 0 && column.samples.length === 0}>
                {fieldKinds[kind].word}
              </MenuItem>
            ))}
          </TextField>
        ) : (
          <span className="q">
            {link !== undefined ? `several of ${otherSide(design, link)?.table.name ?? ''}` : field === undefined ? '' : fieldKinds[field.kind].word}
          </span>
        )}
      </td>
      <td>
        {asks === 'numbers' && (plan.kind === 'field' || plan.kind === 'new') && (
          <TextField
            select
            hiddenLabel
            value={reading.numbers}
            onChange={(event) => onChange({ ...plan, reading: { ...reading, numbers: event.target.value as Reading['numbers'] } })}
            slotProps={{ select: { SelectDisplayProps: { 'aria-label': `How numbers are written in ${column.name}` } } }}
          >
            {Object.entries(numberNames).map(([value, text]) => (
              <MenuItem key={value} value={value}>
                {text}
              </MenuItem>
            ))}
          </TextField>
        )}
        {asks === 'dates' && (plan.kind === 'field' || plan.kind === 'new') && (
          <TextField
            select
            hiddenLabel
            value={reading.dates}
            onChange={(event) => onChange({ ...plan, reading: { ...reading, dates: event.target.value as Reading['dates'] } })}
            slotProps={{ select: { SelectDisplayProps: { 'aria-label': `How dates are written in ${column.name}` } } }}
          >
            {Object.entries(dateNames).map(([value, text]) => (
              <MenuItem key={value} value={value}>
                {text}
              </MenuItem>
            ))}
          </TextField>
        )}
        {field?.kind === 'reference' && <span className="q">matched by what a record is called, or a unique field</span>}
        {plan.kind === 'field' && table !== undefined && canMake(design, table, plan.field) && (
          <FormControlLabel
            control={<Checkbox checked={plan.missing === 'make'} onChange={(_, makes) => onChange({ ...plan, missing: makes ? 'make' : 'complain' })} />}
            label="add missing ones"
            slotProps={{ typography: { 'aria-label': `add missing ${column.name}` } }}
          />
        )}
        {link !== undefined && <span className="q">by what records are called, with commas between them</span>}
        {plan.kind === 'record' && <span className="q">changes the record with this number</span>}
      </td>
    </>
  );
}
