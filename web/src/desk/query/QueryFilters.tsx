import { contract, dayTypes, isReference, valuesPicked, written, type QueryResult, type ResultColumn, type SavedQuery, type Value } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { Note } from '../../ui/Note.js';
import { ActiveFilters, FilterMargin, type Filter } from '../list/FilterMargin.js';
import { later } from '../list/month.js';
import { unnamedRecord } from '../list/values.js';
import { askedRows, type Picking } from './picked.js';
import { wordsIn } from './words.js';

type FiltersProps = { readonly query: SavedQuery; readonly columns: QueryResult['columns'] } & Picking;

/** By which values of its columns the rows of a query can be picked. */
export function useQueryValues(query: SavedQuery, { picked }: Pick<Picking, 'picked'>) {
  const app = useApp();
  const { sort: _, direction: __, ...asked } = askedRows(picked);
  return useQuery({
    queryKey: [...keys.answer(app.id, query.id), 'values', asked],
    queryFn: () => call(contract.readQueryValues, { params: { app: app.id, query: query.id }, query: asked }),
    placeholderData: keepPreviousData,
  });
}

/** A value by which rows are picked or grouped: of days it is a month. */
export function words(column: ResultColumn, value: Value): string {
  if (value === null) return 'empty';
  if (dayTypes.has(column.type)) return locale().month(String(value));
  return column.type === 'record' && !isReference(value) ? unnamedRecord : wordsIn(column, value);
}

const withValues = (only: Picking['picked']['only'], column: string, values: readonly (string | number | boolean | null)[]) => [
  ...only.filter((each) => each.column !== column),
  ...(values.length === 0 ? [] : [{ column, values: [...values] }]),
];

/** The margin beside the rows of a query by which they are picked. */
export function QueryFilters({ query, columns, picked, change }: FiltersProps) {
  const { data, error } = useQueryValues(query, { picked });
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  const filters = (data?.columns ?? []).flatMap(({ column: id, values, more }): readonly Filter[] => {
    const column = columns.find((each) => each.id === id);
    if (column === undefined) return [];
    return [
      {
        id,
        name: column.name,
        values,
        more,
        chosen: valuesPicked(picked.only, id),
        words: (value) => words(column, value),
        onChoose: (chosen) => change({ only: withValues(picked.only, id, chosen) }),
      },
    ];
  });
  return <FilterMargin filters={filters} />;
}

/** What the rows of a query are picked by, in a line above them. */
export function PickedBy({ query, columns, picked, change }: FiltersProps) {
  const { data } = useQueryValues(query, { picked });
  const filters = picked.only.flatMap((narrowing) => {
    const { column: id } = narrowing;
    const column = columns.find((each) => each.id === id);
    if (column === undefined) return [];
    const known = data?.columns.find((each) => each.column === id)?.values ?? [];
    const said =
      'values' in narrowing
        ? narrowing.values.map((value) => words(column, known.find((each) => written(each.value) === value)?.value ?? value)).join(' or ')
        : `${locale().date(narrowing.from)} to ${locale().date(later(narrowing.before, -1))}`;
    return [{ id, label: `${column.name}: ${data === undefined ? '…' : said}`, onRemove: () => change({ only: withValues(picked.only, id, []) }) }];
  });
  return <ActiveFilters filters={filters} onNone={() => change({ only: [] })} />;
}
