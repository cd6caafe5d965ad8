import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { ArrowLeftIcon, TrashIcon } from '@phosphor-icons/react';
import {
  canTotal,
  hasOwnColumns,
  isChart,
  summaries,
  tableOf,
  tileName,
  wantedColumn,
  type Chart,
  type QueryColumn,
  type Summary,
  type Tile,
  type TileOf,
} from '@bibliona/core';
import { useState } from 'react';
import { useApp } from '../../state/app.js';
import { DetailsHead } from '../parts/DetailsHead.js';
import { PublishSettings } from '../published/PublishSettings.js';
import { DigitsField } from '../parts/DigitsField.js';
import { ConditionEditor } from '../expression/ConditionEditor.js';
import { valueHint } from '../expression/examples.js';
import { ExpressionEditor } from '../expression/ExpressionEditor.js';
import { columnType } from '../queries/query-draft.js';
import { offersOf, pickedName, pickedOf } from '../rows/row-sources.js';
import { columnOf, editColumn } from './tile-draft.js';
import { isChartName, tileKinds, tileNames } from './tile-kinds.js';
import { locale } from '../../state/locale.js';

interface PartProps<T extends Tile = Tile> {
  readonly tile: T;
  readonly onChange: (tile: Tile) => void;
}

/** The settings of a tile: its name, its rows, what it shows of them. */
export function TileDetails({
  tile,
  dashboard,
  isOpen,
  onChange,
  onBack,
  onRemove,
}: PartProps & {
  readonly dashboard: string;
  /** Whether it is public as it is saved. */
  readonly isOpen: boolean;
  readonly onBack: () => void;
  readonly onRemove: () => void;
}) {
  const { design } = useApp();
  const { source } = tile;
  return (
    <>
      <DetailsHead kind={tileKinds[tile.kind].name} title={tile.name} />
      <div className="details-body details-form">
        <Button className="go details-back" startIcon={<ArrowLeftIcon />} onClick={onBack}>
          The dashboard
        </Button>
        <TextField label="Name" value={tile.name} onChange={(event) => onChange({ ...tile, name: event.target.value })} required />
        {isChart(tile) ? <ChartPart tile={tile} onChange={onChange} /> : <FigurePart tile={tile} onChange={onChange} />}
        {hasOwnColumns(source) ? (
          <ConditionEditor
            label={`Only ${tableOf(design, source.table).name} where`}
            value={source.condition}
            onChange={(condition) => onChange({ ...tile, source: { ...source, condition } })}
            scope={{ design, table: source.table }}
            hint="Every record."
          />
        ) : (
          <p className="q sm">Made from the rows of {pickedName(pickedOf(source), design)}. Its filters are set there.</p>
        )}
        <p className="q sm">Drag it by its title, or move it with the arrow keys; with Shift they change its size.</p>
        <PublishSettings kind="tile" name={tileName(dashboard, tile.id)} part={tile} isOpen={isOpen} onChange={onChange} />
        <div className="details-foot">
          <Button startIcon={<TrashIcon />} onClick={onRemove}>
            Remove tile
          </Button>
        </div>
      </div>
    </>
  );
}

const summaryNames: Readonly<Record<Summary, string>> = {
  count: 'how many',
  sum: 'sum',
  average: 'average',
  smallest: 'smallest or earliest',
  largest: 'largest or latest',
};

function SummaryChoice(props: { readonly value: Summary; readonly kind: string; readonly onChange: (summary: Summary) => void }) {
  return (
    <TextField select label="Summary" value={props.value} onChange={(event) => props.onChange(event.target.value as Summary)}>
      {summaries
        .filter((summary) => summary === props.value || canTotal({ kind: props.kind }, summary))
        .map((summary) => (
          <MenuItem key={summary} value={summary}>
            {summaryNames[summary]}
          </MenuItem>
        ))}
    </TextField>
  );
}

/** A column of the tile's own rows: its expression and its digits. */
function ColumnPart(props: PartProps & { readonly column: QueryColumn; readonly label: string }) {
  const { tile, onChange, column, label } = props;
  const { design } = useApp();
  if (!hasOwnColumns(tile.source)) return null;
  const { table } = tile.source;
  const type = columnType({ ...tile.source, id: '', name: '', description: '', section: '', order: [], limit: null }, column, design);
  return (
    <>
      <ExpressionEditor
        label={label}
        value={column.expression}
        onChange={(expression) => onChange(editColumn(tile, column.id, { expression }))}
        scope={{ design, table }}
        wanted={wantedColumn(column.summary)}
        optional={column.summary === 'count'}
        hint={column.summary === 'count' ? 'The records themselves. With a field: only where it is filled.' : valueHint(design, table)}
      />
      {type?.kind === 'number' && <DigitsField value={column.digits} onChange={(digits) => onChange(editColumn(tile, column.id, { digits }))} />}
    </>
  );
}

function FigurePart({ tile, onChange }: PartProps<TileOf<'figure'>>) {
  const { design } = useApp();
  const column = columnOf(tile, design, tile.column);
  const offers = hasOwnColumns(tile.source) ? [] : offersOf(pickedOf(tile.source), design);
  const kind = offers.find((offer) => offer.id === tile.column)?.kind ?? 'number';
  return (
    <>
      {!hasOwnColumns(tile.source) && (
        <TextField
          select
          label="How much"
          value={tile.column ?? ''}
          onChange={(event) => onChange({ ...tile, column: event.target.value === '' ? null : event.target.value })}
        >
          <MenuItem value="">number of records</MenuItem>
          {offers.map((offer) => (
            <MenuItem key={offer.id} value={offer.id}>
              {offer.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {column !== undefined && <SummaryChoice value={tile.summary} kind={kind} onChange={(summary) => onChange({ ...tile, summary })} />}
      {column !== undefined && hasOwnColumns(tile.source) && <ColumnPart tile={tile} onChange={onChange} column={column} label="Shows" />}
      <NumberField label="Target" value={tile.target} onChange={(target) => onChange({ ...tile, target })} optional />
      <TextField
        select
        label="Judged"
        value={tile.judgement?.better ?? ''}
        onChange={(event) => {
          const better = event.target.value;
          const { target } = tile;
          const goal = target ?? 10;
          onChange({
            ...tile,
            judgement: better === '' ? null : { better: better as 'higher' | 'lower', fairFrom: better === 'higher' ? goal / 2 : goal * 2, goodFrom: goal },
          });
        }}
      >
        <MenuItem value="">not at all</MenuItem>
        <MenuItem value="higher">more is better</MenuItem>
        <MenuItem value="lower">less is better</MenuItem>
      </TextField>
      {tile.judgement !== null && <JudgementPart key={tile.judgement.better} tile={tile} judgement={tile.judgement} onChange={onChange} />}
    </>
  );
}

function JudgementPart({ tile, judgement, onChange }: PartProps<TileOf<'figure'>> & { readonly judgement: NonNullable<TileOf<'figure'>['judgement']> }) {
  const word = judgement.better === 'higher' ? 'from' : 'up to';
  const isRight = judgement.better === 'higher' ? judgement.fairFrom <= judgement.goodFrom : judgement.fairFrom >= judgement.goodFrom;
  const set = (part: Partial<typeof judgement>): void => onChange({ ...tile, judgement: { ...judgement, ...part } });
  return (
    <>
      <NumberField label={`Fair ${word}`} value={judgement.fairFrom} onChange={(value) => value !== null && set({ fairFrom: value })} />
      <NumberField
        label={`Good ${word}`}
        value={judgement.goodFrom}
        onChange={(value) => value !== null && set({ goodFrom: value })}
        problem={isRight ? undefined : `"Good" must be beyond "fair": ${judgement.better === 'higher' ? 'at it or above' : 'at it or below'}.`}
      />
    </>
  );
}

/** A number as it is typed: what is none yet stays in the field and is said to be wrong. */
function NumberField(props: {
  readonly label: string;
  readonly value: number | null;
  readonly onChange: (value: number | null) => void;
  readonly optional?: boolean;
  readonly problem?: string | undefined;
}) {
  const [typed, setTyped] = useState(props.value === null ? '' : locale().plainNumber(String(props.value)));
  const isWrong = typed.trim() === '' ? props.optional !== true : locale().readNumber(typed) === null;
  return (
    <TextField
      label={props.label}
      value={typed}
      onChange={(event) => {
        const text = event.target.value;
        setTyped(text);
        const next = locale().readNumber(text);
        if (text.trim() === '') props.onChange(null);
        else if (next !== null) props.onChange(Number(next));
      }}
      error={isWrong || props.problem !== undefined}
      helperText={isWrong ? 'Write a number.' : props.problem}
      slotProps={{ htmlInput: { inputMode: 'decimal' } }}
    />
  );
}

function ChartPart({ tile, onChange }: PartProps<Chart>) {
  const { design } = useApp();
  const [label, value] = [columnOf(tile, design, tile.label), columnOf(tile, design, tile.value)];
  const offers = hasOwnColumns(tile.source) ? [] : offersOf(pickedOf(tile.source), design);
  return (
    <>
      <TextField select label="Drawn as" value={tile.kind} onChange={(event) => onChange({ ...tile, kind: event.target.value as Chart['kind'] })}>
        {tileNames.filter(isChartName).map((kind) => (
          <MenuItem key={kind} value={kind}>
            {tileKinds[kind].way}
          </MenuItem>
        ))}
      </TextField>
      {!hasOwnColumns(tile.source) ? (
        (['value', 'label'] as const).map((part) => (
          <TextField
            key={part}
            select
            label={part === 'value' ? 'How much' : 'By'}
            value={tile[part]}
            onChange={(event) => onChange({ ...tile, [part]: event.target.value })}
          >
            {offers
              .filter((offer) => part === 'label' || offer.kind === 'number')
              .map((offer) => (
                <MenuItem key={offer.id} value={offer.id}>
                  {offer.name}
                </MenuItem>
              ))}
          </TextField>
        ))
      ) : (
        <>
          {value !== undefined && (
            <>
              <SummaryChoice value={value.summary ?? 'count'} kind="number" onChange={(summary) => onChange(editColumn(tile, value.id, { summary }))} />
              <ColumnPart tile={tile} onChange={onChange} column={value} label="How much" />
            </>
          )}
          {label !== undefined && <ColumnPart tile={tile} onChange={onChange} column={label} label="By" />}
        </>
      )}
      <TextField select label="Order" value={tile.order} onChange={(event) => onChange({ ...tile, order: event.target.value as Chart['order'] })}>
        <MenuItem value="label">by what they are called</MenuItem>
        <MenuItem value="value">the most first</MenuItem>
      </TextField>
      <TextField
        label="Most points"
        type="number"
        value={tile.most}
        onChange={(event) => onChange({ ...tile, most: Math.min(Math.max(Number.parseInt(event.target.value, 10) || 2, 2), 100) })}
        slotProps={{ htmlInput: { min: 2, max: 100 } }}
      />
    </>
  );
}
