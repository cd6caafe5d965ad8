import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { CaretLeftIcon, CaretRightIcon, PlusIcon } from '@phosphor-icons/react';
import { contract, type Field, type RecordAnswer, type Selection } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp, useRights } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { firstDayIn, later, monthOf, monthsLater, weeksOf } from './month.js';
import { calledIn } from './RecordCard.js';
import { asked, withSelection } from './selection.js';
import { listedFields, namingFields } from './values.js';
import { shownIn } from './shown.js';

// More records than this are not read for one month.
const mostShown = 500;
const shownInDay = 4;

/** The records of a month on their days. */
export function Calendar({ table, list, selection }: ArrangedProps) {
  const app = useApp();
  const isNarrow = useIsNarrow();
  const [search, setSearch] = useSearchParams();
  const dayField = list.arrangement.kind === 'calendar' ? list.arrangement.day : '';
  const field = table.fields.find((one) => one.id === dayField);
  const asKnown = search.get('month');
  const month = asKnown !== null && /^\d{4}-\d\d$/u.test(asKnown) ? `${asKnown}-01` : monthOf(locale().today());
  const weeks = weeksOf(month, firstDayIn(locale().region));
  const from = weeks[0]?.[0] ?? month;
  const before = later(weeks.at(-1)?.[6] ?? month, 1);
  const query: Selection = {
    ...selection,
    narrowed: [...(selection.narrowed ?? []).filter((one) => one.field !== dayField), { field: dayField, from, before }],
  };
  const { data, error } = useQuery({
    queryKey: [...keys.table(app.id, table.id), 'calendar', query],
    queryFn: () => call(contract.readPage, { params: { app: app.id, table: table.id }, query: { ...asked(query), limit: mostShown } }),
    placeholderData: keepPreviousData,
  });
  const go = (to: string | null): void => {
    const next = new URLSearchParams(search);
    if (to === null) next.delete('month');
    else next.set('month', to.slice(0, 7));
    setSearch(next, { replace: true });
  };
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (data === undefined || field === undefined) return <Waiting />;
  const byDay = new Map<string, RecordAnswer[]>();
  for (const record of data.records) {
    const day = dayOf(field, record);
    if (day !== null) byDay.set(day, [...(byDay.get(day) ?? []), record]);
  }
  const weekday = new Intl.DateTimeFormat(locale().region, { weekday: isNarrow ? 'narrow' : 'short', timeZone: 'UTC' });
  return (
    <div className="calendar">
      <div className="calendar-head">
        <Tooltip title="Previous month">
          <IconButton aria-label="Previous month" onClick={() => go(monthsLater(month, -1))}>
            <CaretLeftIcon size={16} />
          </IconButton>
        </Tooltip>
        <h2>{new Intl.DateTimeFormat(locale().region, { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(new Date(`${month}T00:00:00Z`))}</h2>
        <Tooltip title="Next month">
          <IconButton aria-label="Next month" onClick={() => go(monthsLater(month, 1))}>
            <CaretRightIcon size={16} />
          </IconButton>
        </Tooltip>
        <Button onClick={() => go(null)}>Today</Button>
        <span className="q">
          by {field.name}
          {data.next !== null && `, only the first ${mostShown} records: choose a filter to see the others`}
        </span>
      </div>
      <table className="month" aria-label={`${list.name}, by day`}>
        <thead>
          <tr>
            {weeks[0]?.map((day) => (
              <th key={day} scope="col">
                {weekday.format(new Date(`${day}T00:00:00Z`))}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {weeks.map((week) => (
            <tr key={week[0]}>
              {week.map((day) => (
                <Day key={day} day={day} isOutside={monthOf(day) !== month} records={byDay.get(day) ?? []} {...{ table, list, selection }} />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface DayProps extends ArrangedProps {
  readonly day: string;
  readonly isOutside: boolean;
  readonly records: readonly RecordAnswer[];
}

function Day({ day, isOutside, records, table, list, selection }: DayProps) {
  const app = useApp();
  const [isWhole, setWhole] = useState(false);
  const dayField = list.arrangement.kind === 'calendar' ? list.arrangement.day : '';
  // The day itself is said by its place.
  const named = namingFields(app, table).filter((field) => field.id !== dayField);
  const [further] = listedFields(table, list).filter((field) => !named.includes(field) && field.kind !== 'date' && field.kind !== 'date_and_time');
  const mayAdd = useRights(table.id).add;
  const isToday = day === locale().today();
  const shown = isWhole ? records : records.slice(0, shownInDay);
  return (
    <td className={`${isOutside ? 'outside' : ''} ${isToday ? 'today' : ''}`} aria-current={isToday ? 'date' : undefined}>
      <span className="day-number">{Number(day.slice(8))}</span>
      {mayAdd && (
        <Link
          className="day-add"
          to={withSelection(`/desk/${app.id}/${table.id}/new`, selection)}
          state={{ given: [{ field: dayField, from: day, before: later(day, 1) }] }}
          aria-label={`New record on ${locale().date(day)}`}
        >
          <PlusIcon size={14} />
        </Link>
      )}
      {shown.length > 0 && (
        <ul aria-label={locale().date(day)}>
          {shown.map((record) => (
            <li key={record.id}>
              <Link to={withSelection(`/desk/${app.id}/${table.id}/${record.id}`, selection)}>
                {record.tone !== undefined && <i className={`row-spine tone-${record.tone.tone}`} title={record.tone.name} />}
                <span>
                  {calledIn(named, record)}
                  {further !== undefined && <span className="q"> {shownIn(further, record)}</span>}
                </span>
              </Link>
            </li>
          ))}
        </ul>
      )}
      {records.length > shown.length && (
        <button type="button" className="btn bare sm" onClick={() => setWhole(true)}>
          {records.length - shown.length} more
        </button>
      )}
    </td>
  );
}

/** The day of a record, on the clocks of the app; null where it has none. */
function dayOf(field: Field, record: RecordAnswer): string | null {
  const value = record.values[field.id];
  if (typeof value !== 'string' || value === '') return null;
  return field.kind === 'date_and_time' ? locale().wall(value).slice(0, 10) : value.slice(0, 10);
}
