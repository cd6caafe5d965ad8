/** A list while it is being designed, in words and as the question that its proof asks. */
import {
  canNarrow,
  fieldOfArrangement,
  furtherFields,
  isDay,
  kindOf,
  linksOf,
  membersOf,
  plainList,
  shownExpression,
  typeOfField,
  type AppDesign,
  type Arrangement,
  type ArrangementKind,
  type Field,
  type List,
  type SavedQuery,
  type Table,
} from '@bibliona/core';
import type { AppInHand } from '../../state/app.js';
import { directionWords } from '../queries/query-draft.js';

/** The part of the sentence that is worked on. */
export type Spot = 'list' | 'columns' | 'condition' | 'order' | 'groups' | 'sums' | 'filters' | 'tones' | 'arrangement';

export interface Way {
  readonly name: string;
  /** As the sentence of the list says it. */
  readonly says: string;
  /** The field that it needs, by what it is for; null: none. */
  readonly needs: {
    readonly label: string;
    readonly fits: (field: Field) => boolean;
    readonly make: (field: string, before?: Arrangement) => Arrangement;
  } | null;
  readonly plain: Arrangement | null;
  /** Fields that it shows besides, and can do without. */
  readonly further?: readonly Further[];
}

interface Further {
  readonly label: string;
  /** What holds without one. */
  readonly none: string;
  readonly fits: (field: Field, app: AppInHand) => boolean;
  readonly of: (arrangement: Arrangement) => string | undefined;
  readonly put: (arrangement: Arrangement, field: string | undefined) => Arrangement;
}

type Timeline = Extract<Arrangement, { kind: 'timeline' }>;
const isTimeline = (arrangement: Arrangement | undefined): arrangement is Timeline => arrangement?.kind === 'timeline';
/** A further field of a timeline. */
const ofTimeline = (key: 'to' | 'lane'): Pick<Further, 'of' | 'put'> => ({
  of: (arrangement) => (isTimeline(arrangement) ? arrangement[key] : undefined),
  put: (arrangement, field) => {
    if (!isTimeline(arrangement)) return arrangement;
    const { [key]: _, ...rest } = arrangement;
    return field === undefined ? rest : { ...rest, [key]: field };
  },
});
const isChart = (arrangement: Arrangement | undefined): arrangement is Extract<Arrangement, { kind: 'chart' }> => arrangement?.kind === 'chart';
const givesDay = (field: Field, app: AppInHand): boolean =>
  isDay(field.kind) || app.formulas[field.id] === 'date' || app.formulas[field.id] === 'date and time';

/** The arrangements of lists, as builders choose among them. */
export const ways = {
  grid: { name: 'Grid', says: 'as a grid', needs: null, plain: { kind: 'grid' } },
  cards: { name: 'Cards', says: 'as cards', needs: null, plain: { kind: 'cards' } },
  board: {
    name: 'Board',
    says: 'as a board',
    plain: null,
    needs: {
      label: 'A column for each',
      fits: (field) => field.kind === 'choice' || field.kind === 'yes_no' || field.kind === 'reference' || field.kind === 'person',
      make: (by) => ({ kind: 'board', by }),
    },
  },
  calendar: {
    name: 'Calendar',
    says: 'as a calendar',
    plain: null,
    needs: { label: 'On the day of', fits: (field) => isDay(field.kind), make: (day) => ({ kind: 'calendar', day }) },
  },
  timeline: {
    name: 'Timeline',
    says: 'on a timeline',
    plain: null,
    needs: {
      label: 'Begins',
      fits: (field) => isDay(field.kind),
      make: (from, before) => (isTimeline(before) ? { ...before, from } : { kind: 'timeline', from }),
    },
    further: [
      { label: 'Ends', none: 'on the same day', fits: givesDay, ...ofTimeline('to') },
      { label: 'A lane for each', none: 'one lane for all', fits: canNarrow, ...ofTimeline('lane') },
    ],
  },
  chart: {
    name: 'Chart',
    says: 'as a chart',
    plain: null,
    needs: {
      label: 'A bar for each, or over time',
      fits: canNarrow,
      make: (by, before) => (isChart(before) ? { ...before, by } : { kind: 'chart', by }),
    },
    further: [
      {
        label: 'How long it is',
        none: 'the number of records',
        fits: (field, app) => isSummable(app, field),
        of: (arrangement) => (isChart(arrangement) ? arrangement.sum : undefined),
        put: (arrangement, sum) => (!isChart(arrangement) ? arrangement : { kind: 'chart', by: arrangement.by, ...(sum === undefined ? {} : { sum }) }),
      },
    ],
  },
  map: {
    name: 'Map',
    says: 'as a map',
    plain: null,
    needs: { label: 'Where it is', fits: (field) => field.kind === 'place', make: (place) => ({ kind: 'map', place }) },
  },
} as const satisfies Record<ArrangementKind, Way>;

/** The arrangement of a kind for a table, by the first field that fits; null where none does. */
export function arranged(kind: ArrangementKind, table: Table): Arrangement | null {
  const way: Way = ways[kind];
  if (way.needs === null) return way.plain;
  const field = table.fields.find(way.needs.fits);
  return field === undefined ? null : way.needs.make(field.id);
}

/** Whether values of a field add up; of a formula what it gives decides. */
export const isSummable = (app: AppInHand, field: Field): boolean =>
  field.kind === 'formula' ? app.formulas[field.id] === 'number' : kindOf(field).traits.addsUp;
export const narrowingFields = (table: Table): readonly Field[] => table.fields.filter(canNarrow);

const names = (table: Table, design: AppDesign, ids: readonly string[]): readonly string[] => {
  const links = linksOf(design, table.id);
  return ids.flatMap((id) => table.fields.find((field) => field.id === id)?.name ?? links.find((link) => link.id === id)?.childrenName ?? []);
};
const listed = (words: readonly string[], none: string): string => (words.length === 0 ? none : words.join(', '));

/** What a list says of itself, part by part. */
export function wordsOfList(list: List, table: Table, design: AppDesign): Readonly<Record<Exclude<Spot, 'list' | 'condition'>, string>> {
  const needed = fieldOfArrangement(list.arrangement);
  const by = needed === null ? [] : names(table, design, [needed, ...furtherFields(list.arrangement)]);
  const order = list.order.flatMap(({ field: id, direction }) => {
    const field = table.fields.find((each) => each.id === id);
    return field === undefined ? [] : [`${field.name} ${directionWords(typeOfField(design, table.id, field), direction)}`];
  });
  return {
    columns: listed(names(table, design, list.columns), 'no columns'),
    order: order.length === 0 ? 'the first added first' : order.join(', then '),
    groups: listed(names(table, design, list.groupBy), 'nothing'),
    sums: listed(names(table, design, list.sums), 'nothing'),
    filters: listed(names(table, design, list.quickFilters), 'nothing'),
    tones: listed(
      list.tones.map((tone) => tone.name),
      'no colours',
    ),
    arrangement: `${ways[list.arrangement.kind].says}${by.length === 0 ? '' : ` by ${by.join(', ')}`}`,
  };
}

/** The first records that a list shows, as a question: what its proof asks. */
export function questionOfList(list: List, design: AppDesign): SavedQuery {
  const members = membersOf(design, list.table);
  const columns = list.columns.flatMap((id) => {
    const member = members.find((each) => each.kind === 'field' && each.field.id === id);
    if (member?.kind !== 'field') return [];
    const { field, name } = member;
    return [{ id, name: field.name, expression: shownExpression(field, name), summary: null, digits: kindOf(field).digits(field) }];
  });
  const order = list.order.filter((each) => columns.some((column) => column.id === each.field)).map(({ field, direction }) => ({ column: field, direction }));
  return { id: 'proof', name: 'proof', description: '', section: '', table: list.table, condition: list.condition, columns, order, limit: null };
}

/** A list that is complete before anything is chosen: the columns of the one that the table opens with. */
export const firstList = (plan: Pick<List, 'id' | 'name' | 'table'>, columns: readonly string[], arrangement: Arrangement): List => ({
  ...plainList,
  ...plan,
  roles: [],
  isDefault: false,
  columns,
  arrangement,
});
