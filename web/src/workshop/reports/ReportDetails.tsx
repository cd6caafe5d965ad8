import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import TextField from '@mui/material/TextField';
import { ArrowDownIcon, ArrowUpIcon, TrashIcon, XIcon } from '@phosphor-icons/react';
import { hasOwnColumns, tableOf, type Report, type Summary } from '@bibliona/core';
import { newId, useApp } from '../../state/app.js';
import { DetailsHead } from '../parts/DetailsHead.js';
import { PublishSettings } from '../published/PublishSettings.js';
import { ConditionEditor } from '../expression/ConditionEditor.js';
import { AddColumn } from '../queries/AddColumn.js';
import { directionWords } from '../queries/query-draft.js';
import { pickedName, pickedOf } from '../rows/row-sources.js';
import { FieldDetails } from './FieldDetails.js';
import { PaperFields } from './ReportDialog.js';
import {
  columnName,
  columnsOf,
  editGroup,
  fieldFor,
  kindOf,
  movedField,
  typeOf,
  withColumn,
  withGroup,
  withoutGroup,
  withOrder,
  type Spot,
} from './report-draft.js';

export interface PartProps {
  readonly report: Report;
  readonly onChange: (report: Report) => void;
  readonly onSpot: (spot: Spot) => void;
}

const tabs = [
  ['fields', 'Fields'],
  ['groups', 'Groups'],
  ['rows', 'Rows'],
  ['paper', 'Paper'],
] as const;

/** The settings of a report: its fields, its groups, which rows there are, and the paper. */
export function ReportDetails(
  props: PartProps & { readonly spot: Spot; /** Whether it is public as it is saved. */ readonly isOpen: boolean; readonly onRemove: () => void },
) {
  const { report, spot, onSpot } = props;
  const field = spot.kind === 'field' ? report.fields.find((each) => each.column === spot.column) : undefined;
  if (field !== undefined) return <FieldDetails key={field.column} {...props} field={field} />;
  const tab = spot.kind === 'field' ? 'fields' : spot.kind;
  return (
    <>
      <DetailsHead kind="Report" title={report.name} of={{ to: 'report', id: report.id }} />
      <Tabs className="details-tabs" value={tab} onChange={(_, to: (typeof tabs)[number][0]) => onSpot({ kind: to })} aria-label="Parts of the report">
        {tabs.map(([id, name]) => (
          <Tab key={id} value={id} label={name} />
        ))}
      </Tabs>
      {tab === 'fields' && <FieldsPart {...props} />}
      {tab === 'groups' && <GroupsPart {...props} />}
      {tab === 'rows' && <RowsPart {...props} />}
      {tab === 'paper' && <PaperPart {...props} />}
    </>
  );
}

function FieldsPart({ report, onChange, onSpot }: PartProps) {
  const { design } = useApp();
  const { source } = report;
  const free = columnsOf(report, design).filter((column) => !report.fields.some((field) => field.column === column.id));
  return (
    <div className="details-body details-form">
      <ol className="fields report-fields">
        {report.fields.map((field, i) => (
          <li key={field.column}>
            <Button className="report-field" onClick={() => onSpot({ kind: 'field', column: field.column })}>
              <span className="el">{columnName(report, design, field.column)}</span>
              {field.total !== null && <span className="k">{totalNames[field.total]}</span>}
            </Button>
            <IconButton aria-label="Move up" disabled={i === 0} onClick={() => onChange(movedField(report, field.column, -1))}>
              <ArrowUpIcon size={14} />
            </IconButton>
            <IconButton aria-label="Move down" disabled={i === report.fields.length - 1} onClick={() => onChange(movedField(report, field.column, 1))}>
              <ArrowDownIcon size={14} />
            </IconButton>
          </li>
        ))}
      </ol>
      {report.fields.length === 0 && <p className="q sm">No fields yet. Add the first one.</p>}
      {!hasOwnColumns(source) && free.length > 0 && (
        <TextField
          select
          label="Add a field"
          value=""
          onChange={(event) => {
            const column = event.target.value;
            onChange({ ...report, fields: [...report.fields, fieldFor(column, kindOf(report, design, column))] });
          }}
        >
          {free.map((column) => (
            <MenuItem key={column.id} value={column.id}>
              {column.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {hasOwnColumns(source) && (
        <>
          <h3 className="h3">Add a field</h3>
          <AddColumn
            table={source.table}
            isOfRows
            onPick={(picked) => {
              const id = newId('c');
              onChange(withColumn(report, { ...picked, summary: null, id, digits: null }, design));
              onSpot({ kind: 'field', column: id });
            }}
          />
        </>
      )}
    </div>
  );
}

const totalNames: Readonly<Record<Summary, string>> = {
  count: 'number',
  sum: 'sum',
  average: 'average',
  smallest: 'smallest',
  largest: 'largest',
};
function GroupsPart({ report, onChange }: PartProps) {
  const { design } = useApp();
  const free = columnsOf(report, design).filter((column) => !report.groups.some((group) => group.column === column.id));
  return (
    <div className="details-body details-form">
      <p className="q sm">Rows with the same value are grouped under a heading, with totals below.</p>
      {report.groups.map((group, i) => {
        const name = columnName(report, design, group.column);
        const type = typeOf(report, design, group.column);
        return (
          <fieldset key={group.column} className="report-group">
            <legend>{i === 0 ? name : `within it ${name}`}</legend>
            <TextField
              select
              label="Order"
              value={group.direction}
              onChange={(event) => onChange(editGroup(report, group.column, { direction: event.target.value as 'up' | 'down' }))}
            >
              <MenuItem value="up">{directionWords(type, 'up')}</MenuItem>
              <MenuItem value="down">{directionWords(type, 'down')}</MenuItem>
            </TextField>
            <FormControlLabel
              control={
                <Checkbox checked={group.startsPage} onChange={(event) => onChange(editGroup(report, group.column, { startsPage: event.target.checked }))} />
              }
              label="Each on a new page"
            />
            <FormControlLabel
              control={
                <Checkbox
                  checked={group.keepsHeading}
                  onChange={(event) => onChange(editGroup(report, group.column, { keepsHeading: event.target.checked }))}
                />
              }
              label="Keep the heading with its first row"
            />
            <div className="details-foot">
              <Button startIcon={<XIcon />} onClick={() => onChange(withoutGroup(report, group.column))}>
                No longer by {name}
              </Button>
            </div>
          </fieldset>
        );
      })}
      {free.length > 0 && report.groups.length < 4 && (
        <TextField
          select
          label={report.groups.length === 0 ? 'Group by' : 'Then by'}
          value=""
          onChange={(event) => onChange(withGroup(report, event.target.value))}
        >
          {free.map((column) => (
            <MenuItem key={column.id} value={column.id}>
              {column.name}
            </MenuItem>
          ))}
        </TextField>
      )}
    </div>
  );
}

function RowsPart({ report, onChange }: PartProps) {
  const { design } = useApp();
  const { source, order } = report;
  const free = columnsOf(report, design).filter(
    (column) => !order.some((each) => each.column === column.id) && !report.groups.some((group) => group.column === column.id),
  );
  return (
    <div className="details-body details-form">
      {hasOwnColumns(source) ? (
        <>
          <p className="q sm">One row per record of {tableOf(design, source.table).name}.</p>
          <ConditionEditor
            label="Only records where"
            value={source.condition}
            onChange={(condition) => onChange({ ...report, source: { ...source, condition } })}
            scope={{ design, table: source.table }}
            hint="Every record."
          />
        </>
      ) : (
        <p className="q sm">The rows of {pickedName(pickedOf(source), design)}. Its filters are set there.</p>
      )}
      <h3 className="h3">Sort within groups</h3>
      <ol className="orders">
        {order.map((item) => {
          const type = typeOf(report, design, item.column);
          const name = columnName(report, design, item.column);
          return (
            <li key={item.column}>
              <TextField
                select
                label={name}
                value={item.direction}
                onChange={(event) =>
                  onChange({ ...report, order: order.map((each) => (each === item ? { ...each, direction: event.target.value as 'up' | 'down' } : each)) })
                }
              >
                <MenuItem value="up">{directionWords(type, 'up')}</MenuItem>
                <MenuItem value="down">{directionWords(type, 'down')}</MenuItem>
              </TextField>
              <IconButton
                aria-label={`Don't sort by ${name}`}
                onClick={() =>
                  onChange(
                    withOrder(
                      report,
                      order.filter((each) => each !== item),
                    ),
                  )
                }
              >
                <XIcon size={14} />
              </IconButton>
            </li>
          );
        })}
      </ol>
      {free.length > 0 && order.length < 8 && (
        <TextField
          select
          label={order.length === 0 ? 'By' : 'Then by'}
          value=""
          onChange={(event) => onChange({ ...report, order: [...order, { column: event.target.value, direction: 'up' }] })}
        >
          {free.map((column) => (
            <MenuItem key={column.id} value={column.id}>
              {column.name}
            </MenuItem>
          ))}
        </TextField>
      )}
    </div>
  );
}

function PaperPart({ report, isOpen, onChange, onRemove }: PartProps & { readonly isOpen: boolean; readonly onRemove: () => void }) {
  const set = (part: Partial<Report>): void => onChange({ ...report, ...part });
  return (
    <div className="details-body details-form">
      <PaperFields arrangement={report.arrangement} paper={report.paper} onChange={set} />
      <TextField
        label="Name"
        value={report.name}
        onChange={(event) => set({ name: event.target.value })}
        required
        helperText="Shown at the top of the first page."
      />
      <TextField label="Text below it" value={report.description} onChange={(event) => set({ description: event.target.value })} multiline />
      <TextField label="Section of the shelf" value={report.section} onChange={(event) => set({ section: event.target.value })} />
      <PublishSettings kind="report" name={report.id} part={report} isOpen={isOpen} onChange={onChange} />
      <div className="details-foot">
        <Button startIcon={<TrashIcon />} onClick={onRemove}>
          Remove report
        </Button>
      </div>
    </div>
  );
}
