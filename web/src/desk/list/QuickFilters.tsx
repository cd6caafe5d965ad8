import Button from '@mui/material/Button';
import { XIcon } from '@phosphor-icons/react';
import { contract, type Selection, type Table, type Value } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { Note } from '../../ui/Note.js';
import { asked, type useSelection } from './selection.js';
import { chosenIn, chosenOf, narrowedTo, valueWords } from './values.js';

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
  return (
    <aside className="narrowing" aria-label="Quick filters">
      {data?.filters.map(({ field: id, values, more }) => {
        const field = table.fields.find((each) => each.id === id);
        if (field === undefined) return null;
        const chosen = chosenIn(selection, id);
        const most = Math.max(1, ...values.map((value) => value.count));
        const set = (next: readonly (typeof chosen)[number][]): void => onChange({ narrowed: narrowedTo(selection, id, next) });
        const lost: readonly Value[] = chosen.filter((value) => !values.some((each) => chosenOf(each.value) === value));
        return (
          <section key={id} aria-label={field.name}>
            <h2>{field.name}</h2>
            <ul>
              {[...lost.map((value) => ({ value, count: 0 })), ...values].map(({ value, count }) => {
                const own = chosenOf(value);
                const isChosen = chosen.includes(own);
                return (
                  <li key={JSON.stringify(own)}>
                    <button
                      type="button"
                      aria-pressed={isChosen}
                      className={isChosen ? 'on' : ''}
                      onClick={() => set(isChosen ? chosen.filter((each) => each !== own) : [...chosen, own])}
                    >
                      <span className={value === null ? 'nil el' : 'el'}>{valueWords(app, field, value)}</span>
                      <i style={{ width: `${(count / most) * 40}px` }} aria-hidden="true" />
                      <span className="k">{locale().count(count)}</span>
                    </button>
                  </li>
                );
              })}
            </ul>
            {more && <p className="q sm">The most frequent values. Search to find others.</p>}
          </section>
        );
      })}
    </aside>
  );
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
    const said = values.map((value) => valueWords(app, field, known.find((each) => chosenOf(each.value) === value)?.value ?? value));
    return `${field.name}: ${said.join(' or ')}`;
  };
  return (
    <div className="narrowed" role="group" aria-label="Active filters">
      {narrowed.map((item) => {
        const says = 'values' in item ? words(item.field, item.values) : `${locale().date(item.from)} to ${locale().date(item.before)}`;
        return (
          <button
            key={item.field}
            type="button"
            className="chip"
            aria-label={`Remove the filter ${says}`}
            onClick={() => onChange({ narrowed: narrowed.filter((each) => each !== item) })}
          >
            {says}
            <XIcon size={12} />
          </button>
        );
      })}
      <Button onClick={() => onChange({ narrowed: [] })}>Show all</Button>
    </div>
  );
}
