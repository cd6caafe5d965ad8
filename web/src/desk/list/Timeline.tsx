import Tooltip from '@mui/material/Tooltip';
import type { Field, Narrowing, RecordAnswer, Selection, Value } from '@bibliona/core';
import { keepPreviousData, useQueries } from '@tanstack/react-query';
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { useSearchParams } from 'react-router';
import { messageOf } from '../../state/api.js';
import { useApp, useRights } from '../../state/app.js';
import { locale } from '../../state/locale.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { Note } from '../../ui/Note.js';
import { textWidth } from '../../ui/text-width.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { canPut, dayAsked, dayIn, dayOf, earliest, latest, onDay } from './days.js';
import { firstDayIn, later, monthOf } from './month.js';
import { NearestDays } from './NearestDays.js';
import { calledIn } from './RecordCard.js';
import { useRecordSource } from './record-source.js';
import { shownIn } from './shown.js';
import { barsIn, daysBetween, timeSpans, viewLater, viewOf, type Bar, type TimeSpan, type View } from './timeline.js';
import { dayWords, TimeHead } from './TimeHead.js';
import { ToRecord } from './ToRecord.js';
import { usePutting } from './use-putting.js';
import { namingFields } from './values.js';

// More records than this are not read at once.
const mostShown = 500;
/** In pixels. */
const rowHeight = 30;

const asSpan = (text: string | null): TimeSpan => (text === 'quarter' || text === 'year' ? text : 'month');
const tickWords: Readonly<Record<TimeSpan, (day: string) => string>> = {
  month: (day) => String(Number(day.slice(8))),
  quarter: (day) => dayWords(day, { day: 'numeric', month: 'short' }),
  year: (day) => dayWords(day, { month: 'short' }),
};

/** What of a bar is dragged: all of it, or one of its ends. */
type Part = 'whole' | 'start' | 'end';

interface Ends {
  readonly from: Field;
  readonly to: Field | undefined;
  /** Which parts this person can put elsewhere. */
  readonly parts: ReadonlySet<Part>;
}

/** Records as bars over time, in lanes; a bar is dragged to other days, and longer or shorter at its ends. */
export function Timeline({ table, list, selection }: ArrangedProps) {
  const source = useRecordSource(table);
  const rights = useRights(table.id);
  const [search, setSearch] = useSearchParams();
  const { arrangement } = list;
  const fieldOf = (id: string | undefined): Field | undefined => table.fields.find((field) => field.id === id);
  const [from, to, lane] = arrangement.kind === 'timeline' ? [fieldOf(arrangement.from), fieldOf(arrangement.to), fieldOf(arrangement.lane)] : [];
  const span = asSpan(search.get('view'));
  const on = dayAsked(search.get('on')) ?? locale().today();
  const view = viewOf(span, on, firstDayIn(locale().region));
  const isNarrow = useIsNarrow();
  const { ref: scale, width } = useWidth();
  const { set, notes } = usePutting(table);
  const inView = (of: string): Narrowing => ({ field: of, from: view.from, before: view.before });
  // Those that reach into the view, and those without an end that begin in it.
  const asks: readonly (readonly Narrowing[])[] =
    from === undefined
      ? []
      : to === undefined
        ? [[inView(from.id)]]
        : [
            [
              { field: from.id, from: earliest, before: view.before },
              { field: to.id, from: view.from, before: latest },
            ],
            [inView(from.id), { field: to.id, values: [null] }],
          ];
  const answers = useQueries({
    queries: asks.map((narrowed) => {
      const query: Selection = { ...selection, narrowed: [...(selection.narrowed ?? []), ...narrowed] };
      return {
        queryKey: [...source.key, 'timeline', query],
        queryFn: () => source.page(query, mostShown, null),
        placeholderData: keepPreviousData,
      };
    }),
  });
  const error = answers.find((answer) => answer.error !== null)?.error;
  if (error !== undefined && error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (from === undefined || answers.some((answer) => answer.data === undefined)) return <Waiting />;
  const records = answers.flatMap((answer) => answer.data?.records ?? []);
  const go = (day: string | null, next: TimeSpan = span): void => {
    const changed = new URLSearchParams(search);
    for (const key of ['on', 'view']) changed.delete(key);
    if (next !== 'month') changed.set('view', next);
    if (day !== null) changed.set('on', day);
    setSearch(changed, { replace: true });
  };
  const canFrom = canPut(from, rights);
  const canTo = to !== undefined && canPut(to, rights);
  // Where the end is computed it follows the start by itself.
  const parts = new Set<Part>([
    ...(canFrom ? (['whole'] as const) : []),
    ...(canFrom && canTo ? (['start'] as const) : []),
    ...(canTo ? (['end'] as const) : []),
  ]);
  const ends: Ends = { from, to, parts };
  const put = (record: RecordAnswer, part: Part, by: number): void => {
    const values = valuesPut(ends, canTo, record, part, by);
    const days = [dayIn(values[from.id] ?? null) ?? dayOf(from, record), to === undefined ? null : (dayIn(values[to.id] ?? null) ?? dayOf(to, record))];
    const [start, end] = days;
    if (start !== null && start !== undefined && end !== null && end !== undefined && end < start) return;
    const printed = days.flatMap((day) => (day === null || day === undefined ? [] : [locale().date(day)]));
    void set(record, values, canTo && printed.length > 1 ? `is from ${printed.join(' to ')} now` : `begins on ${printed[0] ?? ''} now`);
  };
  const lanes = lanesOf(records, lane);
  return (
    <div className="timeline">
      <TimeHead
        name={nameOfView(span, view)}
        span={span}
        spans={timeSpans}
        onSpan={(next) => go(on, next)}
        onStep={(by) => go(viewLater(span, view.from, by))}
        onToday={() => go(null)}
      >
        {from.name}
        {to !== undefined && ` to ${to.name}`}
        {answers.some((answer) => answer.data?.next !== null) && `, only the first ${mostShown} records: choose a filter to see the others`}
        {parts.size > 0 && !isNarrow && '. Drag a bar, or press Alt and an arrow key on it.'}
      </TimeHead>
      {notes}
      <div className="time-lanes" tabIndex={0} role="group" aria-label={`${list.name}, over time`}>
        <div className="time-lane time-scale" aria-hidden="true">
          <span />
          <div className="time-track" ref={scale}>
            <Ticks view={view} span={span} namedWithin={width} />
          </div>
        </div>
        {lanes.length === 0 && answers.every((answer) => !answer.isPlaceholderData) && (
          <NearestDays {...{ table, selection, span }} field={from} from={view.from} before={view.before} onGo={(day) => go(day)} />
        )}
        {lanes.map(({ name, records: inLane }) => (
          <Lane key={name} {...{ table, list, selection, view, span, ends, name, put, width, lane }} records={inLane} />
        ))}
      </div>
    </div>
  );
}

/** What is written when a part of a bar is put so many days on. */
function valuesPut({ from, to }: Ends, canTo: boolean, record: RecordAnswer, part: Part, by: number): Record<string, Value> {
  const moved = (field: Field): Record<string, Value> => {
    const day = dayOf(field, record);
    return day === null ? {} : { [field.id]: onDay(field, record.values[field.id] ?? null, later(day, by)) };
  };
  if (part === 'start' || to === undefined || !canTo) return moved(from);
  return part === 'end'
    ? dayOf(to, record) === null
      ? { [to.id]: onDay(to, null, later(dayOf(from, record) ?? '', by)) }
      : moved(to)
    : { ...moved(from), ...moved(to) };
}

function nameOfView(span: TimeSpan, view: View): string {
  if (span === 'year') return view.from.slice(0, 4);
  if (span === 'month') return dayWords(view.from, { month: 'long', year: 'numeric' });
  return `${dayWords(view.from, { month: 'short' })} to ${dayWords(monthOf(later(view.before, -1)), { month: 'short', year: 'numeric' })}`;
}

/** The lanes by their names; records without a value share the last. */
function lanesOf(records: readonly RecordAnswer[], lane: Field | undefined): readonly { readonly name: string; readonly records: readonly RecordAnswer[] }[] {
  const found = new Map<string, RecordAnswer[]>();
  for (const record of records) {
    const name = lane === undefined ? '' : shownIn(lane, record);
    found.set(name, [...(found.get(name) ?? []), record]);
  }
  return [...found]
    .map(([name, of]) => ({ name, records: of }))
    .sort((each, other) => (each.name === '' ? 1 : other.name === '' ? -1 : each.name.localeCompare(other.name, locale().region, { numeric: true })));
}

/** The width of an element in pixels, as it changes. */
function useWidth() {
  const ref = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const element = ref.current;
    if (element === null) return undefined;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  });
  return { ref, width };
}

/** In pixels: with less room for the name of each line only every other is named, or fewer. */
const roomForTick: Readonly<Record<TimeSpan, number>> = { month: 22, quarter: 50, year: 40 };

/** The lines of a view. @param namedWithin so many pixels they are named; absent: they are not */
function Ticks({ view, span, namedWithin }: { readonly view: View; readonly span: TimeSpan; readonly namedWithin?: number }) {
  const every = namedWithin === undefined || namedWithin === 0 ? 1 : Math.ceil((roomForTick[span] * view.ticks.length) / namedWithin);
  const days = daysBetween(view.from, view.before);
  const today = locale().today();
  const at = (day: string): React.CSSProperties => ({ left: `${(daysBetween(view.from, day) / days) * 100}%` });
  return (
    <>
      {view.ticks.map((day, i) => (
        <i key={day} className="time-tick" style={at(day)}>
          {namedWithin !== undefined && i % every === 0 && tickWords[span](day)}
        </i>
      ))}
      {today >= view.from && today < view.before && <i className="now" style={at(today)} />}
    </>
  );
}

interface LaneProps extends ArrangedProps {
  readonly view: View;
  readonly span: TimeSpan;
  readonly ends: Ends;
  readonly name: string;
  /** What the lanes are by. */
  readonly lane: Field | undefined;
  /** Of the track, in pixels. */
  readonly width: number;
  readonly records: readonly RecordAnswer[];
  readonly put: (record: RecordAnswer, part: Part, by: number) => void;
}

function Lane({ view, span, ends, name, lane, records, width, ...props }: LaneProps) {
  const app = useApp();
  // What the lane says is not said again in each of its bars.
  const [all, others] = [namingFields(app, props.table), namingFields(app, props.table).filter((field) => field.id !== lane?.id)];
  const named = others.length === 0 ? all : others;
  const track = useRef<HTMLUListElement>(null);
  const bars = barsIn(
    view,
    records.flatMap((record) => {
      const start = dayOf(ends.from, record);
      return start === null ? [] : [{ of: record, start, end: ends.to === undefined ? null : dayOf(ends.to, record) }];
    }),
    (record) => (width === 0 ? 0 : (textWidth(calledIn(named, record), nameSize) + aroundName) / width),
  );
  const height = (Math.max(0, ...bars.map((bar) => bar.row)) + 1) * rowHeight;
  const days = daysBetween(view.from, view.before);
  const daysAcross = (pixels: number): number => Math.round((pixels / (track.current?.getBoundingClientRect().width ?? 1)) * days);
  return (
    <section className="time-lane" aria-label={name === '' ? (lane === undefined ? 'All records' : 'empty') : name}>
      <h3 className={name === '' ? 'nil' : ''}>{name === '' && lane !== undefined ? 'empty' : name}</h3>
      <ul className="time-track" ref={track} style={{ height }}>
        <li aria-hidden="true">
          <Ticks view={view} span={span} />
        </li>
        {bars.map((bar) => (
          <BarOf key={bar.of.id} {...props} {...{ bar, named }} parts={ends.parts} daysAcross={daysAcross} days={days} />
        ))}
      </ul>
    </section>
  );
}

interface BarProps extends ArrangedProps {
  readonly bar: Bar<RecordAnswer>;
  /** The fields that name it within its lane. */
  readonly named: readonly Field[];
  readonly parts: ReadonlySet<Part>;
  /** How many days are in view. */
  readonly days: number;
  readonly daysAcross: (pixels: number) => number;
  readonly put: LaneProps['put'];
}

// A press that moves less than this, in pixels, opens the record.
const slack = 5;
/** The room that a bar has around its name, in pixels. */
const aroundName = 28;
const nameSize = 13;

function BarOf({ table, selection, bar, named, parts, days, daysAcross, put }: BarProps) {
  const [held, setHeld] = useState<{ readonly part: Part; readonly by: number } | null>(null);
  const wasDragged = useRef(false);
  const record = bar.of;
  const called = calledIn(named, record);
  const by = (held?.by ?? 0) / days;
  const left = bar.left + (held?.part === 'end' ? 0 : by);
  const width = bar.width + (held?.part === 'end' ? by : held?.part === 'start' ? -by : 0);
  const hold = (part: Part) => (event: PointerEvent<HTMLElement>) => {
    if (!parts.has(part) || event.button !== 0) return;
    event.stopPropagation();
    const begin = event.clientX;
    const element = event.currentTarget;
    let moved = 0;
    wasDragged.current = false;
    const move = (next: globalThis.PointerEvent): void => {
      if (Math.abs(next.clientX - begin) > slack && !wasDragged.current) {
        wasDragged.current = true;
        element.setPointerCapture(event.pointerId);
      }
      if (!wasDragged.current) return;
      moved = daysAcross(next.clientX - begin);
      setHeld({ part, by: moved });
    };
    const stop = (next: globalThis.PointerEvent): void => {
      element.removeEventListener('pointermove', move);
      element.removeEventListener('pointerup', stop);
      element.removeEventListener('pointercancel', stop);
      setHeld(null);
      if (next.type === 'pointerup' && moved !== 0) put(record, part, moved);
    };
    element.addEventListener('pointermove', move);
    element.addEventListener('pointerup', stop);
    element.addEventListener('pointercancel', stop);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const step = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
    const part: Part = event.shiftKey ? 'end' : 'whole';
    if (!event.altKey || step === 0 || !parts.has(part)) return;
    event.preventDefault();
    put(record, part, step);
  };
  const span = bar.end === bar.start ? locale().date(bar.start) : `${locale().date(bar.start)} to ${locale().date(bar.end)}`;
  return (
    <li
      className={`time-bar ${held === null ? '' : 'held'} ${bar.isNamedBefore ? 'named-before' : ''}`}
      style={{ left: `${left * 100}%`, width: `${Math.max(width, 0) * 100}%`, top: bar.row * rowHeight }}
    >
      {record.tone !== undefined && <i className={`row-spine tone-${record.tone.tone}`} title={record.tone.name} />}
      {parts.has('start') && <span className="time-end at-start" aria-hidden="true" onPointerDown={hold('start')} />}
      <Tooltip title={`${called}: ${span}`}>
        <ToRecord
          table={table}
          record={record.id}
          selection={selection}
          draggable={false}
          aria-label={`${called}, ${span}`}
          {...(parts.size === 0
            ? {}
            : {
                'aria-keyshortcuts': parts.has('end')
                  ? 'Alt+ArrowLeft Alt+ArrowRight Alt+Shift+ArrowLeft Alt+Shift+ArrowRight'
                  : 'Alt+ArrowLeft Alt+ArrowRight',
              })}
          onPointerDown={hold('whole')}
          onClick={(event) => wasDragged.current && event.preventDefault()}
          onKeyDown={onKeyDown}
        >
          {called}
        </ToRecord>
      </Tooltip>
      {parts.has('end') && <span className="time-end" aria-hidden="true" onPointerDown={hold('end')} />}
    </li>
  );
}
