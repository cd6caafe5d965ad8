import { DndContext, DragOverlay, PointerSensor, pointerWithin, useDraggable, useDroppable, useSensor, useSensors } from '@dnd-kit/core';
import { PlusIcon } from '@phosphor-icons/react';
import type { Field, RecordAnswer, Selection } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { messageOf } from '../../state/api.js';
import { useApp, useRights } from '../../state/app.js';
import { locale } from '../../state/locale.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { canPut, dayAsked, dayOf, onDay, timeOf } from './days.js';
import { firstDayIn, later, monthOf, monthsLater, weekOf, weeksOf } from './month.js';
import { NearestDays } from './NearestDays.js';
import { calledIn } from './RecordCard.js';
import { useRecordSource } from './record-source.js';
import { withSelection } from './selection.js';
import { listedFields, namingFields } from './values.js';
import { shownIn } from './shown.js';
import { dayWords, TimeHead } from './TimeHead.js';
import { ToRecord } from './ToRecord.js';
import { usePutting } from './use-putting.js';

// More records than this are not read at once.
const mostShown = 500;
const shownInDay = 4;

/** How much of the calendar is in view. */
const spans = { month: 'Month', week: 'Week', day: 'Day' } as const;
type Span = keyof typeof spans;
const asSpan = (text: string | null): Span => (text === 'week' || text === 'day' ? text : 'month');

/** What is in view around a day: rows of days, what that is called, and where one goes from there. */
function viewAround(span: Span, on: string, isNarrow: boolean) {
  const firstDay = firstDayIn(locale().region);
  if (span === 'month')
    return { rows: weeksOf(on, firstDay), name: dayWords(on, { month: 'long', year: 'numeric' }), step: (by: number) => monthsLater(on, by) };
  if (span === 'day') return { rows: [[on]], name: dayWords(on, { dateStyle: 'full' }), step: (by: number) => later(on, by) };
  const week = weekOf(on, firstDay);
  const [first = on] = week;
  return {
    rows: isNarrow ? week.map((day) => [day]) : [week],
    name: `${locale().date(first)} to ${locale().date(week.at(-1) ?? on)}`,
    step: (by: number) => later(on, 7 * by),
  };
}

/** The records of a month, a week or a day on their days; dragging one to another day changes it there. */
export function Calendar({ table, list, selection }: ArrangedProps) {
  const app = useApp();
  const source = useRecordSource(table);
  const isNarrow = useIsNarrow();
  const rights = useRights(table.id);
  const [search, setSearch] = useSearchParams();
  const dayField = list.arrangement.kind === 'calendar' ? list.arrangement.day : '';
  const field = table.fields.find((each) => each.id === dayField);
  const span = asSpan(search.get('view'));
  const on = dayAsked(search.get('on') ?? `${search.get('month') ?? ''}-01`) ?? locale().today();
  const { rows, name, step } = viewAround(span, on, isNarrow);
  const days = rows.flat();
  const [from = on, before = later(days.at(-1) ?? on, 1)] = [days[0]];
  const query: Selection = {
    ...selection,
    narrowed: [...(selection.narrowed ?? []).filter((each) => each.field !== dayField), { field: dayField, from, before }],
  };
  const { data, error, isPlaceholderData } = useQuery({
    queryKey: [...source.key, 'calendar', query],
    queryFn: () => source.page(query, mostShown, null),
    placeholderData: keepPreviousData,
  });
  const { set, notes } = usePutting(table);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const [held, setHeld] = useState<RecordAnswer | null>(null);
  const toFocus = useRef<number | null>(null);
  useEffect(() => {
    // Who moves a record with keys goes with it.
    if (toFocus.current === null) return;
    const link = document.querySelector<HTMLElement>(`.calendar [data-record="${toFocus.current}"]`);
    link?.focus();
    if (link !== null) toFocus.current = null;
  }, [data]);
  const go = (to: string | null, next: Span = span): void => {
    const changed = new URLSearchParams(search);
    for (const key of ['month', 'on', 'view']) changed.delete(key);
    if (next !== 'month') changed.set('view', next);
    if (to !== null) changed.set(next === 'month' ? 'month' : 'on', next === 'month' ? to.slice(0, 7) : to);
    setSearch(changed, { replace: true });
  };
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (data === undefined || field === undefined) return <Waiting />;
  const put = canPut(field, rights)
    ? (record: RecordAnswer, day: string): void => {
        if (dayOf(field, record) === day) return;
        void set(record, { [field.id]: onDay(field, record.values[field.id] ?? null, day) }, `is on ${locale().date(day)} now`);
      }
    : null;
  const byDay = new Map<string, RecordAnswer[]>();
  for (const record of data.records) {
    const day = dayOf(field, record);
    if (day !== null) byDay.set(day, [...(byDay.get(day) ?? []), record]);
  }
  if (field.kind !== 'date')
    for (const records of byDay.values()) records.sort((record, other) => (String(record.values[field.id]) < String(other.values[field.id]) ? -1 : 1));
  const weekday = (day: string): string => dayWords(day, { weekday: isNarrow && span === 'month' ? 'narrow' : 'short' });
  const shared = { table, list, selection, field, span, put, onKeyPut: (id: number) => (toFocus.current = id) };
  return (
    <div className="calendar">
      <TimeHead name={name} span={span} spans={spans} onSpan={(next) => go(on, next)} onStep={(by) => go(step(by))} onToday={() => go(null)}>
        by {field.name}
        {data.next !== null && `, only the first ${mostShown} records: choose a filter to see the others`}
        {put !== null && !isNarrow && '. Drag a record to another day, or press Alt and an arrow key on it.'}
      </TimeHead>
      {notes}
      {data.records.length === 0 && !isPlaceholderData && <NearestDays {...{ table, selection, field, span, from, before }} onGo={(day) => go(day)} />}
      <DndContext
        sensors={sensors}
        collisionDetection={pointerWithin}
        onDragStart={({ active }) => setHeld((active.data.current as { record: RecordAnswer }).record)}
        onDragCancel={() => setHeld(null)}
        onDragEnd={({ over }) => {
          if (held !== null && over !== null && put !== null) put(held, String(over.id));
          setHeld(null);
        }}
      >
        <table className={`month of-${span}`} aria-label={`${list.name}, by day`}>
          {rows[0] !== undefined && rows[0].length > 1 && (
            <thead>
              <tr>
                {rows[0].map((day) => (
                  <th key={day} scope="col">
                    {weekday(day)}
                  </th>
                ))}
              </tr>
            </thead>
          )}
          <tbody>
            {rows.map((row) => (
              <tr key={row[0]}>
                {row.map((day) => (
                  <Day
                    key={day}
                    {...shared}
                    day={day}
                    weekday={row.length === 1 && span === 'week' ? weekday(day) : null}
                    isOutside={span === 'month' && monthOf(day) !== monthOf(on)}
                    records={byDay.get(day) ?? []}
                  />
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        <DragOverlay dropAnimation={null}>{held !== null && <span className="held-record">{calledIn(namingFields(app, table), held)}</span>}</DragOverlay>
      </DndContext>
    </div>
  );
}

interface Shared extends ArrangedProps {
  readonly field: Field;
  readonly span: Span;
  /** Null: this person can't put records on other days. */
  readonly put: ((record: RecordAnswer, day: string) => void) | null;
  /** A record is put elsewhere with keys. */
  readonly onKeyPut: (id: number) => void;
}

interface DayProps extends Shared {
  readonly day: string;
  /** What day of the week it is, where no head says so. */
  readonly weekday: string | null;
  readonly isOutside: boolean;
  readonly records: readonly RecordAnswer[];
}

function Day({ day, weekday, isOutside, records, ...shared }: DayProps) {
  const { table, selection, field, span } = shared;
  const app = useApp();
  const [isWhole, setWhole] = useState(false);
  const { setNodeRef, isOver } = useDroppable({ id: day });
  const mayAdd = useRights(table.id).add;
  const isToday = day === locale().today();
  const shown = isWhole || span !== 'month' ? records : records.slice(0, shownInDay);
  return (
    <td
      ref={setNodeRef}
      className={`${isOutside ? 'outside' : ''} ${isToday ? 'today' : ''} ${isOver ? 'over' : ''}`}
      aria-current={isToday ? 'date' : undefined}
    >
      <span className="day-number">
        {weekday !== null && `${weekday} `}
        {Number(day.slice(8))}
      </span>
      {mayAdd && (
        <Link
          className="day-add"
          to={withSelection(`/desk/${app.id}/${table.id}/new`, selection)}
          state={{ given: [{ field: field.id, from: day, before: later(day, 1) }] }}
          aria-label={`New record on ${locale().date(day)}`}
        >
          <PlusIcon size={14} />
        </Link>
      )}
      {shown.length > 0 && (
        <ul aria-label={locale().date(day)}>
          {shown.map((record) => (
            <OnDay key={record.id} {...shared} day={day} record={record} />
          ))}
        </ul>
      )}
      {span === 'day' && records.length === 0 && <p className="q">Nothing on this day.</p>}
      {records.length > shown.length && (
        <button type="button" className="btn bare sm" onClick={() => setWhole(true)}>
          {records.length - shown.length} more
        </button>
      )}
    </td>
  );
}

/** By how many days each key moves a record. */
const daysBy: Readonly<Record<string, number>> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 };

function OnDay({ table, list, selection, field, span, put, onKeyPut, day, record }: Shared & { readonly day: string; readonly record: RecordAnswer }) {
  const app = useApp();
  const { setNodeRef, listeners, isDragging } = useDraggable({ id: record.id, data: { record }, disabled: put === null });
  // The day itself is said by its place.
  const named = namingFields(app, table).filter((each) => each.id !== field.id);
  const further = listedFields(table, list).filter((each) => !named.includes(each) && each.kind !== 'date' && each.kind !== 'date_and_time');
  const told = further.slice(0, span === 'month' ? 1 : 4).map((each) => [each, shownIn(each, record)] as const);
  const time = timeOf(field, record);
  return (
    <li ref={setNodeRef} {...listeners} className={isDragging ? 'dragged' : ''}>
      <ToRecord
        table={table}
        record={record.id}
        selection={selection}
        draggable={false}
        data-record={record.id}
        {...(put === null ? {} : { 'aria-keyshortcuts': 'Alt+ArrowLeft Alt+ArrowRight Alt+ArrowUp Alt+ArrowDown' })}
        onKeyDown={(event) => {
          const by = daysBy[event.key];
          if (!event.altKey || by === undefined || put === null) return;
          event.preventDefault();
          onKeyPut(record.id);
          put(record, later(day, by));
        }}
      >
        {record.tone !== undefined && <i className={`row-spine tone-${record.tone.tone}`} title={record.tone.name} />}
        <span>
          {time !== '' && <span className="q">{time} </span>}
          {calledIn(named, record)}
          {told.map(
            ([each, text]) =>
              text !== '' && (
                <span key={each.id} className="q told">
                  {' '}
                  {span === 'month' ? text : `${each.name}: ${text}`}
                </span>
              ),
          )}
        </span>
      </ToRecord>
    </li>
  );
}
