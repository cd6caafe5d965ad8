/** The arrangements of lists, and of the rows of queries, as builders choose among them. */
import { canNarrow, fieldOfArrangement, furtherFields, isDay, kindOf, type Arrangement, type ArrangementKind, type Field, type Table } from '@bibliona/core';
import type { AppInHand } from '../../state/app.js';

/** Something that an arrangement is made by. */
interface Need {
  /** Which member of its shape names the field, or the column of a query. */
  readonly key: string;
  readonly label: string;
  /** Which fields of a table it can be; the types of columns are in `columnNeeds`. */
  readonly fits: (field: Field, app: AppInHand) => boolean;
}

export interface Way {
  readonly name: string;
  /** As the sentence of the list says it. */
  readonly phrase: string;
  /** Without which there is no such arrangement; null: it needs nothing. */
  readonly needs: Need | null;
  /** What it shows besides, and can do without. `none`: what holds then. */
  readonly further?: readonly (Need & { readonly none: string })[];
}

const hasDay = (field: Field): boolean => isDay(field.kind);
const givesDay = (field: Field, app: AppInHand): boolean => hasDay(field) || app.formulas[field.id] === 'date' || app.formulas[field.id] === 'date and time';

/** Whether values of a field add up; of a formula what it gives decides. */
export const isSummable = (app: AppInHand, field: Field): boolean =>
  field.kind === 'formula' ? app.formulas[field.id] === 'number' : kindOf(field).traits.addsUp;
export const ways = {
  grid: { name: 'Grid', phrase: 'as a grid', needs: null },
  cards: { name: 'Cards', phrase: 'as cards', needs: null },
  board: {
    name: 'Board',
    phrase: 'as a board',
    needs: {
      key: 'by',
      label: 'A column for each',
      fits: (field) => field.kind === 'choice' || field.kind === 'yes_no' || field.kind === 'reference' || field.kind === 'person',
    },
  },
  calendar: { name: 'Calendar', phrase: 'as a calendar', needs: { key: 'day', label: 'On the day of', fits: hasDay } },
  timeline: {
    name: 'Timeline',
    phrase: 'on a timeline',
    needs: { key: 'from', label: 'Begins', fits: hasDay },
    further: [
      { key: 'to', label: 'Ends', none: 'on the same day', fits: givesDay },
      { key: 'lane', label: 'A lane for each', none: 'one lane for all', fits: canNarrow },
    ],
  },
  chart: {
    name: 'Chart',
    phrase: 'as a chart',
    needs: { key: 'by', label: 'A bar for each, or over time', fits: canNarrow },
    further: [{ key: 'sum', label: 'How long it is', none: 'the number of records', fits: (field, app) => isSummable(app, field) }],
  },
  map: { name: 'Map', phrase: 'as a map', needs: { key: 'place', label: 'Where it is', fits: (field) => field.kind === 'place' } },
} as const satisfies Record<ArrangementKind, Way>;

/** How it is arranged, as a sentence says it. @param nameOf what a field or column is called; undefined where there is none */
export function arrangementWords(arrangement: Arrangement, nameOf: (id: string) => string | undefined): string {
  const names = [fieldOfArrangement(arrangement), ...furtherFields(arrangement)].flatMap((id) => (id === null ? [] : (nameOf(id) ?? [])));
  return `${ways[arrangement.kind].phrase}${names.length === 0 ? '' : ` by ${names.join(', ')}`}`;
}

/** The arrangement with another field or column for one of its needs; `undefined`: without one. What else it was made by stays. */
export function madeWith(kind: ArrangementKind, key: string, id: string | undefined, before: Arrangement | undefined): Arrangement {
  const members = Object.entries(before?.kind === kind ? before : { kind }).filter(([name]) => name !== key);
  return Object.fromEntries(id === undefined ? members : [...members, [key, id]]) as Arrangement;
}

/** The arrangement of a kind by the first that fits; null where none does. @param offered the ids that fit one of its needs */
export function firstArranged(kind: ArrangementKind, offered: (key: string) => readonly { readonly id: string }[]): Arrangement | null {
  const { needs }: Way = ways[kind];
  if (needs === null) return { kind } as Arrangement;
  const [first] = offered(needs.key);
  return first === undefined ? null : madeWith(kind, needs.key, first.id, undefined);
}

/** The fields of a table that fit a need of an arrangement. */
export function fittingFields(kind: ArrangementKind, key: string, table: Table, app: AppInHand): readonly Field[] {
  const { needs, further = [] }: Way = ways[kind];
  const need = [...(needs === null ? [] : [needs]), ...further].find((each) => each.key === key);
  return need === undefined ? [] : table.fields.filter((field) => need.fits(field, app));
}
