import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import {
  fieldKinds,
  linksOf,
  newKinds,
  otherSide,
  suggestField,
  suggestPlan,
  type ColumnPlan,
  type FieldKind,
  type FileSurvey,
  type ImportAnswer,
  type ImportPlan,
  type Reading,
} from '@bibliona/core';
import { useState, type ReactNode } from 'react';
import { newId, useApp } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { locale } from '../../state/locale.js';

export interface ImportPlannerProps {
  readonly answer: ImportAnswer;
  readonly survey: FileSurvey;
  readonly tableId: string | null;
  readonly onReading: (reading: Partial<FileSurvey['reading']>) => void;
  readonly onRun: (plan: ImportPlan) => void;
  readonly another: ReactNode;
}

const delimiterNames = { ',': 'commas', ';': 'semicolons', '\t': 'tabs', '|': 'vertical bars' } as const;
const encodingNames = { 'utf-8': 'UTF-8', 'utf-16le': 'UTF-16', 'utf-16be': 'UTF-16, big end first', 'windows-1252': 'Windows-1252' } as const;
const numberNames = { point: '1,234.50', comma: '1.234,50', space_point: '1 234.50', space_comma: '1 234,50' } as const;
const dateNames = { dmy: 'day first: 31/12/2026', mdy: 'month first: 12/31/2026', ymd: 'year first: 2026/12/31' } as const;
/** Means the record number in the list of field ids. No field id can start with this sign. */
const recordNumber = '#';

const tableNameOf = (fileName: string): string => {
  const plain = fileName
    .replace(/\.[^.]*$/u, '')
    .replace(/[_-]+/gu, ' ')
    .replace(/["\p{C}]/gu, '')
    .trim()
    .slice(0, 60);
  return plain === '' ? 'Imported' : plain[0]?.toUpperCase() + plain.slice(1);
};

/** What a column goes into, where no second one can. */
const targetOf = (plan: ColumnPlan): readonly string[] =>
  plan.kind === 'field' ? [plan.field] : plan.kind === 'link' ? [plan.relationship] : plan.kind === 'record' ? [recordNumber] : [];

/** What the file is and what each of its columns becomes, before anything happens. */
export function ImportPlanner({ answer, survey, tableId, onReading, onRun, another }: ImportPlannerProps) {
  const { design } = useApp();
  const table = design.tables.find((one) => one.id === tableId);
  const [name, setName] = useState(() => (answer.plan?.target.kind === 'new' ? answer.plan.target.name : tableNameOf(answer.fileName)));
  const [target] = useState(() => ({ table: newId('t'), form: newId('fm'), list: newId('l') }));
  // Keep the choices that were made before a refusal, unless the file is now read differently.
  const before = answer.plan !== null && JSON.stringify(answer.plan.reading) === JSON.stringify(survey.reading) ? answer.plan : null;
  const [columns, setColumns] = useState<readonly ColumnPlan[]>(() => before?.columns ?? suggestPlan(survey.columns, design, tableId, () => newId('f')));
  const [badCells, setBadCells] = useState<'refuse' | 'empty'>(before?.badCells ?? 'refuse');
  const setColumn = (at: number, plan: ColumnPlan): void => setColumns(columns.map((column, i) => (i === at ? plan : column)));
  const taken = columns.filter((column) => column.kind === 'field' || column.kind === 'new' || column.kind === 'link').length;
  const isByNumber = columns.some((column) => column.kind === 'record');
  const asleep = design.automations.filter(
    (automation) => automation.isOn && automation.table === tableId && (automation.on === 'added' || (isByNumber && automation.on === 'changed')),
  );
  const run = (): void =>
    onRun({
      reading: survey.reading,
      target: table === undefined ? { kind: 'new', name, ...target } : { kind: 'table', table: table.id },
      columns: columns.map((column) => (column.kind === 'new' ? { ...column, field: { ...column.field, name: column.field.name.trim() } } : column)),
      badCells,
    });
  const problem =
    table === undefined && name.trim() === ''
      ? 'Enter a name for the table.'
      : columns.some((column) => column.kind === 'new' && column.field.name.trim() === '')
        ? 'Every new field needs a name.'
        : taken === 0
          ? 'Choose a field for at least one column.'
          : null;
  return (
    <form
      className="planner"
      onSubmit={(event) => {
        event.preventDefault();
        if (problem === null) run();
      }}
    >
      <div className="planner-file">
        <p>
          <b>{answer.fileName}</b> has {locale().count(survey.rows)} {survey.rows === 1 ? 'row' : 'rows'} and {survey.columns.length}{' '}
          {survey.columns.length === 1 ? 'column' : 'columns'}.
        </p>
        {table === undefined && (
          <TextField label="Name of the new table" value={name} onChange={(event) => setName(event.target.value)} required error={name.trim() === ''} />
        )}
        <TextField
          select
          label="Separator"
          value={survey.reading.delimiter}
          onChange={(event) => onReading({ delimiter: event.target.value as FileSurvey['reading']['delimiter'] })}
        >
          {Object.entries(delimiterNames).map(([value, text]) => (
            <MenuItem key={value} value={value}>
              {text}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Encoding"
          value={survey.reading.encoding}
          onChange={(event) => onReading({ encoding: event.target.value as FileSurvey['reading']['encoding'] })}
        >
          {Object.entries(encodingNames).map(([value, text]) => (
            <MenuItem key={value} value={value}>
              {text}
            </MenuItem>
          ))}
        </TextField>
        <FormControlLabel
          control={<Checkbox checked={survey.reading.heading} onChange={(_, heading) => onReading({ heading })} />}
          label="First row contains column names"
        />
        <TextField
          type="number"
          label="Rows above the table"
          value={survey.reading.skip}
          onChange={(event) => {
            const skip = Math.min(100, Math.max(0, Number(event.target.value)));
            if (Number.isInteger(skip)) onReading({ skip });
          }}
          slotProps={{ htmlInput: { min: 0, max: 100 } }}
        />
      </div>
      <div className="planner-columns" tabIndex={0} role="group" aria-label="Columns of the file">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Column of the file</th>
              <th scope="col">Example</th>
              <th scope="col" className="n">
                Filled
              </th>
              <th scope="col">Goes into</th>
              <th scope="col">As</th>
              <th scope="col">Read as</th>
            </tr>
          </thead>
          <tbody>
            {survey.columns.map((column, at) => (
              <tr key={column.name}>
                <th scope="row" className="el">
                  {column.name}
                </th>
                <td className="samples el" title={column.samples.join(' | ')}>
                  {column.samples.length === 0 ? <span className="nil">empty</span> : column.samples.slice(0, 3).join(' | ')}
                  {column.note !== null && <span className="column-note">{column.note}</span>}
                </td>
                <td className="n">{survey.rows === 0 ? '' : `${Math.floor((column.filled / survey.rows) * 100)} %`}</td>
                <ColumnTarget
                  column={column}
                  plan={columns[at] ?? { kind: 'skip' }}
                  tableId={tableId}
                  used={columns.flatMap((one, i) => (i === at ? [] : targetOf(one)))}
                  onChange={(plan) => setColumn(at, plan)}
                />
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {problem !== null && <Note kind="bad">{problem}</Note>}
      {isByNumber && (
        <Note kind="look">
          A row with a record number changes that record where its values differ. An empty cell empties its field. A row without a number adds a record. Nothing
          is deleted.
        </Note>
      )}
      {asleep.length > 0 && (
        <Note kind="look">Imports don't trigger automations: {asleep.map((one) => `“${one.name}”`).join(', ')} won't run for these rows.</Note>
      )}
      <div className="import-foot">
        <Button type="submit" variant="contained">
          Import {locale().count(survey.rows)} {survey.rows === 1 ? 'row' : 'rows'}
        </Button>
        {another}
        <FormControlLabel
          control={<Checkbox checked={badCells === 'empty'} onChange={(_, checked) => setBadCells(checked ? 'empty' : 'refuse')} />}
          label="Leave cells with errors empty"
        />
      </div>
    </form>
  );
}

interface TargetProps {
  readonly column: FileSurvey['columns'][number];
  readonly plan: ColumnPlan;
  readonly tableId: string | null;
  /** Fields that other columns go into. */
  readonly used: readonly string[];
  readonly onChange: (plan: ColumnPlan) => void;
}

function ColumnTarget({ column, plan, tableId, used, onChange }: TargetProps) {
  const { design } = useApp();
  const table = design.tables.find((one) => one.id === tableId);
  const links = tableId === null ? [] : linksOf(design, tableId);
  const link = plan.kind === 'link' ? links.find((one) => one.id === plan.relationship) : undefined;
  const reading: Reading = plan.kind === 'field' || plan.kind === 'new' ? plan.reading : column.reading;
  const field = plan.kind === 'new' ? plan.field : plan.kind === 'field' ? table?.fields.find((one) => one.id === plan.field) : undefined;
  const choose = (value: string): void => {
    if (value === '-') onChange({ kind: 'skip' });
    else if (value === recordNumber) onChange({ kind: 'record' });
    else if (value === '+') onChange({ kind: 'new', field: suggestField(column, () => newId('f'), design.region), reading });
    else onChange(links.some((one) => one.id === value) ? { kind: 'link', relationship: value } : { kind: 'field', field: value, reading });
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
          <MenuItem value="+">a new field</MenuItem>
          {table?.fields.map((one) => (
            <MenuItem key={one.id} value={one.id} disabled={used.includes(one.id)}>
              {one.name}
              {one.required ? ' *' : ''}
            </MenuItem>
          ))}
          {links.map((one) => (
            <MenuItem key={one.id} value={one.id} disabled={used.includes(one.id)}>
              {one.childrenName}
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
        {field?.kind === 'reference' && <span className="q">matched by what a record is called</span>}
        {link !== undefined && <span className="q">by what records are called, with commas between them</span>}
        {plan.kind === 'record' && <span className="q">changes the record with this number</span>}
      </td>
    </>
  );
}
