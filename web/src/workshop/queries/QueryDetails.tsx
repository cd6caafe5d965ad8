import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { ArrowLeftIcon, ArrowRightIcon, PlusIcon, TrashIcon, XIcon } from '@phosphor-icons/react';
import { mostQuickFilters, summaries, wantedColumn, type QueryColumn, type SavedQuery, type Summary } from '@bibliona/core';
import { useMemo } from 'react';
import { newId, useApp } from '../../state/app.js';
import { ArrangementSettings } from '../parts/ArrangementSettings.js';
import { DetailsHead } from '../parts/DetailsHead.js';
import { DigitsField } from '../parts/DigitsField.js';
import { Several } from '../parts/Several.js';
import { ConditionEditor } from '../expression/ConditionEditor.js';
import { valueHint } from '../expression/examples.js';
import { ExpressionEditor } from '../expression/ExpressionEditor.js';
import { AddColumn } from './AddColumn.js';
import {
  arrangedAs,
  columnType,
  directionWords,
  editColumn,
  filteredBy,
  fittingColumns,
  movedColumn,
  pickableColumns,
  withColumn,
  withoutColumn,
  type Spot,
} from './query-draft.js';

interface PartProps {
  readonly query: SavedQuery;
  readonly onChange: (query: SavedQuery) => void;
  readonly onSpot: (spot: Spot) => void;
}

/** The settings of what is chosen in the sentence. */
export function QueryDetails(props: PartProps & { readonly spot: Spot; readonly onRemove: () => void }) {
  const { query, spot, onChange, onSpot } = props;
  const { design } = useApp();
  const column = spot.kind === 'column' ? query.columns.find((each) => each.id === spot.id) : undefined;
  if (column !== undefined) return <ColumnPart key={column.id} {...props} column={column} />;
  if (spot.kind === 'new column')
    return (
      <>
        <DetailsHead kind="Column" title="A new column" />
        <AddColumn
          table={query.table}
          onPick={(picked) => {
            const id = newId('c');
            onChange(withColumn(query, { ...picked, id, digits: null }));
            onSpot({ kind: 'column', id });
          }}
        />
      </>
    );
  if (spot.kind === 'condition')
    return (
      <>
        <DetailsHead kind="Condition" title="Which rows there are" />
        <div className="details-body details-form">
          <ConditionEditor
            label="Only records where"
            value={query.condition}
            onChange={(condition) => onChange({ ...query, condition })}
            scope={{ design, table: query.table }}
            hint="Every record."
          />
        </div>
      </>
    );
  if (spot.kind === 'order') return <OrderPart {...props} />;
  if (spot.kind === 'arrangement') return <ArrangementPart {...props} />;
  return <QueryPart {...props} />;
}

function QueryPart({ query, onChange, onRemove }: PartProps & { readonly onRemove: () => void }) {
  const { design } = useApp();
  const set = (part: Partial<SavedQuery>): void => onChange({ ...query, ...part });
  return (
    <>
      <DetailsHead kind="Query" title={query.name} of={{ to: 'query', id: query.id }} />
      <div className="details-body details-form">
        <TextField label="Name" value={query.name} onChange={(event) => set({ name: event.target.value })} required />
        <TextField label="What it answers" value={query.description} onChange={(event) => set({ description: event.target.value })} multiline />
        <TextField label="Section of the shelf" value={query.section} onChange={(event) => set({ section: event.target.value })} />
        <TextField
          label="Only the first"
          type="number"
          value={query.limit ?? ''}
          onChange={(event) => {
            const limit = Number.parseInt(event.target.value, 10);
            set({ limit: Number.isFinite(limit) && limit > 0 ? Math.min(limit, 1_000_000) : null });
          }}
          helperText={query.limit === null ? 'Empty: all rows. A number keeps the first rows of the sort order.' : undefined}
        />
        <Several
          label="Quick filters"
          options={pickableColumns(query, design)}
          chosen={query.quickFilters ?? []}
          most={mostQuickFilters}
          onChange={(chosen) => onChange(filteredBy(query, chosen))}
          hint="Columns by whose values people pick rows on the spot. Empty: those in which many rows share a few values."
          none="No column with such values."
        />
        <div className="details-foot">
          <Button startIcon={<TrashIcon />} onClick={onRemove}>
            Remove query
          </Button>
        </div>
      </div>
    </>
  );
}

const summaryNames: Readonly<Record<Summary, string>> = {
  count: 'number of records',
  sum: 'sum',
  average: 'average',
  smallest: 'smallest or earliest',
  largest: 'largest or latest',
};

function ColumnPart({ query, column, onChange, onSpot }: PartProps & { readonly column: QueryColumn }) {
  const { design } = useApp();
  const edit = (part: Partial<QueryColumn>): void => onChange(editColumn(query, column.id, part));
  const at = query.columns.indexOf(column);
  const type = columnType(query, column, design);
  return (
    <>
      <DetailsHead kind={column.summary === null ? 'Column' : 'Summary'} title={column.name} />
      <div className="details-body details-form">
        <TextField label="Name" value={column.name} onChange={(event) => edit({ name: event.target.value })} required />
        <TextField
          select
          label="Summary"
          value={column.summary ?? ''}
          onChange={(event) => edit({ summary: event.target.value === '' ? null : (event.target.value as Summary) })}
        >
          <MenuItem value="">none: each value</MenuItem>
          {summaries.map((summary) => (
            <MenuItem key={summary} value={summary}>
              {summaryNames[summary]}
            </MenuItem>
          ))}
        </TextField>
        <ExpressionEditor
          label="Shows"
          value={column.expression}
          onChange={(expression) => edit({ expression })}
          scope={{ design, table: query.table }}
          wanted={wantedColumn(column.summary)}
          optional={column.summary === 'count'}
          hint={column.summary === 'count' ? 'The records themselves. With a field: only where it is filled.' : valueHint(design, query.table)}
        />
        {type?.kind === 'number' && <DigitsField value={column.digits} onChange={(digits) => edit({ digits })} />}
        <div className="details-foot">
          <IconButton aria-label="Move the column left" disabled={at === 0} onClick={() => onChange(movedColumn(query, column.id, -1))}>
            <ArrowLeftIcon size={16} />
          </IconButton>
          <IconButton aria-label="Move the column right" disabled={at === query.columns.length - 1} onClick={() => onChange(movedColumn(query, column.id, 1))}>
            <ArrowRightIcon size={16} />
          </IconButton>
          <Button
            startIcon={<TrashIcon />}
            onClick={() => {
              onChange(withoutColumn(query, column.id));
              onSpot({ kind: 'query' });
            }}
          >
            Leave out
          </Button>
        </div>
      </div>
    </>
  );
}

function ArrangementPart({ query, onChange }: PartProps) {
  const { design } = useApp();
  const offered = useMemo(() => fittingColumns(query, design), [query, design]);
  return (
    <>
      <DetailsHead kind="Arrangement" title="How the rows are shown" />
      <div className="details-body details-form">
        <ArrangementSettings
          arrangement={query.arrangement ?? { kind: 'grid' }}
          offered={offered}
          onChange={(arrangement) => onChange(arrangedAs(query, arrangement))}
          hint="A calendar and a timeline need a column with a date, a map one with a place. A board and a chart need short values."
        />
      </div>
    </>
  );
}

function OrderPart({ query, onChange }: PartProps) {
  const { design } = useApp();
  const set = (order: SavedQuery['order']): void => onChange({ ...query, order });
  const free = query.columns.filter((column) => !query.order.some((each) => each.column === column.id));
  return (
    <>
      <DetailsHead kind="Order" title="Sort" />
      <div className="details-body details-form">
        {query.order.length === 0 && <p className="q sm">Not sorted. Choose a column to sort by. Empty values come last.</p>}
        <ol className="orders">
          {query.order.map((item, i) => {
            const column = query.columns.find((each) => each.id === item.column);
            if (column === undefined) return null;
            const type = columnType(query, column, design);
            return (
              <li key={item.column}>
                <TextField
                  select
                  label={i === 0 ? column.name : `then ${column.name}`}
                  value={item.direction}
                  onChange={(event) => set(query.order.map((each) => (each === item ? { ...each, direction: event.target.value as 'up' | 'down' } : each)))}
                >
                  <MenuItem value="up">{directionWords(type, 'up')}</MenuItem>
                  <MenuItem value="down">{directionWords(type, 'down')}</MenuItem>
                </TextField>
                <IconButton aria-label={`Don't sort by ${column.name}`} onClick={() => set(query.order.filter((each) => each !== item))}>
                  <XIcon size={14} />
                </IconButton>
              </li>
            );
          })}
        </ol>
        {free.length > 0 && query.order.length < 8 && (
          <TextField
            select
            label={query.order.length === 0 ? 'By' : 'Then by'}
            value=""
            onChange={(event) => set([...query.order, { column: event.target.value, direction: 'up' }])}
          >
            {free.map((column) => (
              <MenuItem key={column.id} value={column.id}>
                {column.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        {query.columns.length === 0 && (
          <p className="q sm">
            <PlusIcon size={12} /> Add a column first.
          </p>
        )}
      </div>
    </>
  );
}
