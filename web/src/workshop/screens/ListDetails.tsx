import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { PlusIcon, TrashIcon } from '@phosphor-icons/react';
import { linksOf, formFor, mostFrozen, mostLevels, mostOrders, mostQuickFilters, mostSums, mostTones, tableOf, type List, type RowTone } from '@bibliona/core';
import { ArrangementSettings } from '../parts/ArrangementSettings.js';
import { fittingFields, isSummable } from '../parts/arrangements.js';
import { ToneField } from '../parts/ToneField.js';
import { newId, useApp } from '../../state/app.js';
import { ConditionEditor } from '../expression/ConditionEditor.js';
import { DetailsHead } from '../parts/DetailsHead.js';
import { PublishSettings } from '../published/PublishSettings.js';
import { OrderedFields } from './OrderedFields.js';
import { ScreenSettings } from './ScreenSettings.js';
import { narrowingFields, type Spot } from './list-draft.js';

interface Props {
  readonly list: List;
  readonly spot: Spot;
  /** Whether it is public as it is saved. */
  readonly isOpen: boolean;
  readonly onChange: (list: List) => void;
  readonly onSpot: (spot: Spot) => void;
  /** Null: every table keeps the list that it opens with. */
  readonly onRemove: (() => void) | null;
}

const heads: Readonly<Record<Spot, readonly [kind: string, title: string]>> = {
  list: ['List', ''],
  columns: ['Part of the list', 'Columns'],
  condition: ['Part of the list', 'Which records'],
  order: ['Part of the list', 'Order'],
  groups: ['Part of the list', 'Groups'],
  sums: ['Part of the list', 'Sums'],
  filters: ['Part of the list', 'Quick filters'],
  tones: ['Part of the list', 'Colours'],
  arrangement: ['Part of the list', 'Arrangement'],
};

/** The settings of the chosen part of a list. */
export function ListDetails(props: Props) {
  const { list, spot, onSpot, onRemove } = props;
  const [kind, title] = heads[spot];
  return (
    <>
      <DetailsHead kind={kind} title={spot === 'list' ? list.name : title} {...(spot === 'list' ? { of: { to: 'list', id: list.id } } : {})} />
      <div className="details-body details-form">
        <PartSettings {...props} />
        <div className="details-foot">
          {spot !== 'list' ? (
            <Button onClick={() => onSpot('list')}>To the list</Button>
          ) : (
            onRemove !== null && (
              <Button startIcon={<TrashIcon />} onClick={onRemove}>
                Remove list
              </Button>
            )
          )}
        </div>
      </div>
    </>
  );
}

function PartSettings({ list, spot, isOpen, onChange, onRemove }: Props) {
  const app = useApp();
  const { design } = app;
  const table = tableOf(design, list.table);
  const set = (part: Partial<List>): void => onChange({ ...list, ...part });
  switch (spot) {
    case 'list':
      return (
        <>
          <ScreenSettings screen={list} what="list" isOpening={onRemove === null} onChange={set} />
          <OpensIn list={list} onChange={onChange} />
          <PublishSettings kind="list" name={list.id} part={list} isOpen={isOpen} onChange={onChange} />
        </>
      );
    case 'columns':
      return (
        <>
          <OrderedFields
            label="Columns"
            offered={[...table.fields, ...linksOf(design, table.id).map(({ id, childrenName }) => ({ id, name: childrenName }))]}
            chosen={list.columns}
            onChange={(columns) => set({ columns })}
            hint="Everybody can choose columns and widths of their own on the Desk."
          />
          {list.arrangement.kind === 'grid' && <Frozen list={list} onChange={onChange} />}
        </>
      );
    case 'condition':
      return (
        <ConditionEditor
          label="Show records where"
          value={list.condition}
          onChange={(condition) => set({ condition })}
          scope={{ design, table: table.id }}
          hint="Without a condition it shows every record."
        />
      );
    case 'order':
      return (
        <OrderedFields
          label="Order"
          offered={table.fields}
          chosen={list.order.map((each) => each.field)}
          most={mostOrders}
          onChange={(fields) => set({ order: fields.map((field) => list.order.find((each) => each.field === field) ?? { field, direction: 'up' }) })}
          hint="The first decides; the next decides between records that are equal by it. Without one the oldest come first."
          more={(id) => (
            <TextField
              select
              hiddenLabel
              value={list.order.find((each) => each.field === id)?.direction ?? 'up'}
              onChange={(event) =>
                set({ order: list.order.map((each) => (each.field === id ? { ...each, direction: event.target.value === 'down' ? 'down' : 'up' } : each)) })
              }
              slotProps={{ htmlInput: { 'aria-label': `Direction of ${table.fields.find((field) => field.id === id)?.name ?? ''}` } }}
            >
              <MenuItem value="up">up</MenuItem>
              <MenuItem value="down">down</MenuItem>
            </TextField>
          )}
        />
      );
    case 'groups':
      return (
        <OrderedFields
          label="Groups"
          offered={narrowingFields(table)}
          chosen={list.groupBy}
          most={mostLevels}
          onChange={(groupBy) => set({ groupBy })}
          hint="Records with the same value are shown together; of dates, those of one month. Only a grid shows groups."
        />
      );
    case 'sums':
      return (
        <OrderedFields
          label="Sums"
          offered={table.fields.filter((field) => isSummable(app, field))}
          chosen={list.sums}
          most={mostSums}
          onChange={(sums) => set({ sums })}
          hint="Shown at the foot of the list, at each group, and over each column of a board."
        />
      );
    case 'filters':
      return (
        <OrderedFields
          label="Quick filters"
          offered={narrowingFields(table)}
          chosen={list.quickFilters}
          most={mostQuickFilters}
          onChange={(quickFilters) => set({ quickFilters })}
          hint="Their values are shown beside the list with the number of records that have each; of dates, the months."
        />
      );
    case 'tones':
      return <Tones list={list} onChange={(next) => set({ tones: next })} />;
    case 'arrangement':
      return (
        <ArrangementSettings
          arrangement={list.arrangement}
          offered={(kind, key) => fittingFields(kind, key, table, app)}
          onChange={(arrangement) => set({ arrangement })}
          hint="A calendar and a timeline need a date, a map a place, and a board a choice, a person or a reference. A chart needs short values."
        />
      );
    default:
      return spot satisfies never;
  }
}

interface WholeProps {
  readonly list: List;
  readonly onChange: (list: List) => void;
}

/** The form in which records of the list open. */
function OpensIn({ list, onChange }: WholeProps) {
  const { design } = useApp();
  const opening = formFor(design, list.table);
  return (
    <TextField
      select
      label="Records open in"
      value={list.form ?? opening.id}
      onChange={({ target }) => {
        const { form: _, ...rest } = list;
        onChange(target.value === opening.id ? rest : { ...rest, form: target.value });
      }}
      helperText="The form in which they are added from here too."
    >
      {design.forms
        .filter((form) => form.table === list.table)
        .map((form) => (
          <MenuItem key={form.id} value={form.id}>
            {form.id === opening.id ? `The form of the table, ${form.name}` : form.name}
          </MenuItem>
        ))}
    </TextField>
  );
}

/** How many columns stay in sight when the grid is scrolled to the side. */
function Frozen({ list, onChange }: WholeProps) {
  return (
    <TextField
      select
      label="Columns that stay in sight"
      value={list.frozen ?? 0}
      onChange={({ target }) => {
        const { frozen: _, ...rest } = list;
        onChange(Number(target.value) === 0 ? rest : { ...rest, frozen: Number(target.value) });
      }}
      helperText="When the list is scrolled to the side."
    >
      {Array.from({ length: mostFrozen + 1 }, (_, n) => (
        <MenuItem key={n} value={n}>
          {n === 0 ? 'none' : n === 1 ? 'the first' : `the first ${n}`}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Colours for records that meet a condition, and what each says. */
function Tones({ list, onChange }: { readonly list: List; readonly onChange: (tones: readonly RowTone[]) => void }) {
  const { design } = useApp();
  const edit = (id: string, part: Partial<RowTone>): void => onChange(list.tones.map((tone) => (tone.id === id ? { ...tone, ...part } : tone)));
  return (
    <>
      {list.tones.length === 0 && (
        <p className="q sm">A colour at the left of a record tells at a glance that it needs somebody. What it says can be read beside it.</p>
      )}
      <ul className="row-tones">
        {list.tones.map((item, i) => (
          <li key={item.id}>
            <TextField label="What it says" value={item.name} onChange={(event) => edit(item.id, { name: event.target.value })} required />
            <ToneField value={item.tone} onChange={(tone) => edit(item.id, { tone })} />
            <ConditionEditor
              label={`Colour ${i + 1}: records where`}
              value={item.condition}
              onChange={(condition) => edit(item.id, { condition })}
              scope={{ design, table: list.table }}
            />
            <Button size="small" startIcon={<TrashIcon />} onClick={() => onChange(list.tones.filter((each) => each.id !== item.id))}>
              Remove colour {i + 1}
            </Button>
          </li>
        ))}
      </ul>
      {list.tones.length < mostTones && (
        <Button startIcon={<PlusIcon />} onClick={() => onChange([...list.tones, { id: newId('tn'), name: 'Needs a look', tone: 'gold', condition: '' }])}>
          Colour
        </Button>
      )}
    </>
  );
}
