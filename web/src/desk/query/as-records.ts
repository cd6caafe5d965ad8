/** Turns the rows of a query into records whose fields are its columns: boards, calendars and maps of lists draw those. */
import {
  contract,
  fieldOfArrangement,
  furtherFields,
  type Arrangement,
  type Field,
  type RecordAnswer,
  type ResultColumn,
  type RowsPicked,
  type SavedQuery,
  type Selection,
  type Table,
} from '@bibliona/core';
import { call } from '../../state/api.js';
import type { AppInHand } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import type { RecordSource } from '../list/record-source.js';
import { askedRows } from './picked.js';

/** Texts, days and references are shown as fields of them are; all else as what is calculated. */
const kindOfType: Readonly<Record<string, Field['kind']>> = { string: 'text', choice: 'text', date: 'date', record: 'reference' };

function fieldOf({ id, name, type, digits, unit }: ResultColumn): Field {
  const kind = kindOfType[type] ?? 'formula';
  return { kind, id, name, description: '', column: '', required: false, unique: false, default: null, expression: '', digits, unit } as Field;
}

export const asTable = (query: SavedQuery, columns: readonly ResultColumn[]): Table => ({
  id: query.id,
  name: query.name,
  slug: 'rows',
  description: '',
  section: '',
  caption: '',
  fields: columns.map(fieldOf),
  checks: [],
  uniqueTogether: [],
  isLink: false,
});

/** The app with what is known of these columns, and by which of them a row is called. Nobody has rights on such a table. */
export function appWith(app: AppInHand, query: SavedQuery, columns: readonly ResultColumn[], arrangement: Arrangement): AppInHand {
  // What a row is placed by is said by its place.
  const placing = [fieldOfArrangement(arrangement), ...furtherFields(arrangement)];
  const others = columns.filter((column) => !placing.includes(column.id));
  const [called] = [...others.filter((column) => column.type !== 'number'), ...others, ...columns];
  return {
    ...app,
    formulas: { ...app.formulas, ...Object.fromEntries(columns.map((column) => [column.id, column.type])) },
    captions: { ...app.captions, [query.id]: called === undefined ? [] : [called.id] },
  };
}

/** What is picked of the rows, and narrowed further by an arrangement, in an order that it may ask for. */
const within = (picked: RowsPicked, { narrowed = [], sort, direction }: Selection): RowsPicked => ({
  ...picked,
  ...(sort === undefined ? {} : { sort, direction }),
  only: [...picked.only, ...narrowed.map(({ field: column, ...what }) => ({ column, ...what }))],
});

export function rowsAsRecords(app: string, query: SavedQuery, columns: readonly ResultColumn[], picked: RowsPicked): RecordSource {
  const params = { app, query: query.id };
  return {
    key: [...keys.answer(app, query.id), 'arranged', picked],
    page: async (selection, limit, after) => {
      const skip = Number(after ?? 0);
      const { rows } = await call(contract.readQuery, { params, query: { ...askedRows(within(picked, selection)), skip, limit, count: 'no' } });
      const records = rows.map(({ id, cells }, i): RecordAnswer => {
        const values = Object.fromEntries(columns.map((column, at) => [column.id, cells[at] ?? null]));
        // A row that sums up many records has no number of its own.
        return { id: id ?? -(skip + i + 1), rev: 0, values };
      });
      return { records, next: rows.length < limit ? null : String(skip + limit) };
    },
    groups: (selection) => {
      const { sort: _, direction: __, ...asked } = askedRows(within(picked, selection));
      return call(contract.readQueryGroups, { params, query: { ...asked, by: JSON.stringify(selection.by ?? []) } });
    },
    addressOf: (record) => (record > 0 ? `/desk/${app}/${query.table}/${record}` : null),
  };
}
