import { contract, written, type Narrowing, type Selection, type Table, type Value } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { Note } from '../../ui/Note.js';
import { ActiveFilters, FilterMargin, type Filter } from './FilterMargin.js';
import { asked, type useSelection } from './selection.js';
import { chosenIn, narrowedTo, valueWords } from './values.js';

type Change = ReturnType<typeof useSelection>['change'];

/** Counted values of the quick filters of a list; those chosen come first, even if no record has them any more. */
function useQuickFilters(table: Table, selection: Selection) {
  const app = useApp();
  const { sort: _, direction, ...counted } = selection;
  return useQuery({
    queryKey: [...keys.table(app.id, table.id), 'quick filters', counted],
    queryFn: () => call(contract.readQuickFilters, { params: { app: app.id, table: table.id }, query: asked({ ...counted, direction }) }),
    placeholderData: keepPreviousData,
  });
}

/** The margin beside a list by which it is narrowed: fields with their values and how many records have each. */
export function QuickFilters({ table, selection, onChange }: { readonly table: Table; readonly selection: Selection; readonly onChange: Change }) {
  const { data, error } = useQuickFilters(table, selection);
  const app = useApp();
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  const filters = (data?.filters ?? []).flatMap(({ field: id, values, more }): readonly Filter[] => {
    const field = table.fields.find((each) => each.id === id);
    if (field === undefined) return [];
    return [
      {
        id,
        name: field.name,
        values,
        more,
        chosen: chosenIn(selection, id),
        words: (value) => valueWords(app, field, value),
        onChoose: (next) => onChange({ narrowed: narrowedTo(selection, id, next) }),
      },
    ];
  });
  return <FilterMargin filters={filters} />;
}

/** What a list is narrowed by, in a line above it; each is taken back by a press. */
export function Narrowed({ table, selection, onChange }: { readonly table: Table; readonly selection: Selection; readonly onChange: Change }) {
  const app = useApp();
  const { data } = useQuickFilters(table, selection);
  const { narrowed = [] } = selection;
  if (narrowed.length === 0) return null;
  const words = (id: string, values: readonly Value[]): string => {
    const field = table.fields.find((each) => each.id === id);
    const known = data?.filters.find((filter) => filter.field === id)?.values ?? [];
    if (field === undefined) return '';
    const said = values.map((value) => valueWords(app, field, known.find((each) => written(each.value) === value)?.value ?? value));
    return `${field.name}: ${data === undefined ? '…' : said.join(' or ')}`;
  };
  const textOf = (item: Narrowing): string =>
    'values' in item ? words(item.field, item.values) : `${locale().date(item.from)} to ${locale().date(item.before)}`;
  const filters = narrowed.map((item) => ({
    id: item.field,
    label: textOf(item),
    onRemove: () => onChange({ narrowed: narrowed.filter((each) => each !== item) }),
  }));
  return <ActiveFilters filters={filters} onNone={() => onChange({ narrowed: [] })} />;
}
