import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { ArrowLeftIcon, TrashIcon } from '@phosphor-icons/react';
import { hasOwnColumns, wantedColumn, type ReportField, type Summary } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { DetailsHead } from '../parts/DetailsHead.js';
import { DigitsField } from '../parts/DigitsField.js';
import { valueHint } from '../expression/examples.js';
import { ExpressionEditor } from '../expression/ExpressionEditor.js';
import type { PartProps } from './ReportDetails.js';
import { columnsOf, editColumn, editField, kindOf, totalsFor, withoutField } from './report-draft.js';

const totalSays: Readonly<Record<Summary, string>> = {
  count: 'how many are filled',
  sum: 'sum',
  average: 'average',
  smallest: 'smallest or earliest',
  largest: 'largest or latest',
};

/** The settings of one field: what it shows, its total, its part of the width. */
export function FieldDetails({ report, onChange, onSpot, field }: PartProps & { readonly field: ReportField }) {
  const { design } = useApp();
  const column = columnsOf(report, design).find((each) => each.id === field.column);
  const { source } = report;
  const edit = (part: Partial<ReportField>): void => onChange(editField(report, field.column, part));
  const kind = kindOf(report, design, field.column);
  if (column === undefined) return null;
  return (
    <>
      <DetailsHead kind="Field" title={column.name} />
      <div className="details-body details-form">
        <Button className="go details-back" startIcon={<ArrowLeftIcon />} onClick={() => onSpot({ kind: 'fields' })}>
          All fields
        </Button>
        {hasOwnColumns(source) && (
          <>
            <TextField
              label="Heading"
              value={column.name}
              onChange={(event) => onChange(editColumn(report, column.id, { name: event.target.value }))}
              required
            />
            <ExpressionEditor
              label="Shows"
              value={column.expression}
              onChange={(expression) => onChange(editColumn(report, column.id, { expression }))}
              scope={{ design, table: source.table }}
              wanted={wantedColumn(null)}
              hint={valueHint(design, source.table)}
            />
            {kind === 'number' && <DigitsField value={column.digits} onChange={(digits) => onChange(editColumn(report, column.id, { digits }))} />}
          </>
        )}
        <TextField
          select
          label="Under each group and at the end"
          value={field.total ?? ''}
          onChange={(event) => edit({ total: event.target.value === '' ? null : (event.target.value as Summary) })}
        >
          <MenuItem value="">nothing</MenuItem>
          {totalsFor(kind).map((total) => (
            <MenuItem key={total} value={total}>
              {totalSays[total]}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label="Part of the width"
          type="number"
          value={field.share}
          onChange={(event) => edit({ share: Math.min(Math.max(Number.parseInt(event.target.value, 10) || 1, 1), 40) })}
          helperText={`of ${report.fields.reduce((sum, each) => sum + each.share, 0)} that all fields share`}
          slotProps={{ htmlInput: { min: 1, max: 40 } }}
        />
        <FormControlLabel control={<Checkbox checked={field.wraps} onChange={(event) => edit({ wraps: event.target.checked })} />} label="Wrap long text" />
        <div className="details-foot">
          <Button
            startIcon={<TrashIcon />}
            onClick={() => {
              onChange(withoutField(report, field.column));
              onSpot({ kind: 'fields' });
            }}
          >
            Leave out
          </Button>
        </div>
      </div>
    </>
  );
}
