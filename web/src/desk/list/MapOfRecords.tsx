import { pointOf, type Point, type RecordAnswer } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { locale } from '../../state/locale.js';
import { viewOf, WorldMap, type Dot } from '../../ui/map/WorldMap.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { calledIn, RecordCard } from './RecordCard.js';
import { useRecordSource } from './record-source.js';
import { ToRecord } from './ToRecord.js';
import { namingFields } from './values.js';

const size = { width: 840, height: 480 } as const;
// More points than this are no map any more, and no more are read at once.
const mostShown = 500;
/** How near to a point a press has to be, in units of the drawing. */
const near = 14;

interface Placed {
  readonly record: RecordAnswer;
  readonly point: Point;
}

/** Records as points on a map, beside their names. */
export function MapOfRecords({ table, list, selection }: ArrangedProps) {
  const source = useRecordSource(table);
  const fieldId = list.arrangement.kind === 'map' ? list.arrangement.place : '';
  const { data, error } = useQuery({
    queryKey: [...source.key, 'map', selection],
    queryFn: () => source.page(selection, mostShown, null),
    placeholderData: keepPreviousData,
  });
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (data === undefined) return <Waiting />;
  const placed = data.records.flatMap((record): readonly Placed[] => {
    const point = pointOf(record.values[fieldId]);
    return point === null ? [] : [{ record, point }];
  });
  const without = data.records.length - placed.length;
  return (
    <div className="map-of-records">
      <Points key={JSON.stringify(selection)} {...{ table, list, selection, placed }} />
      <p className="q sm">
        {without > 0 && `${locale().count(without)} ${without === 1 ? 'record has' : 'records have'} no place. `}
        {data.next !== null && `Only the first ${mostShown} records are shown: choose a filter to see the others.`}
      </p>
    </div>
  );
}

function Points({ table, list, selection, placed }: ArrangedProps & { readonly placed: readonly Placed[] }) {
  const app = useApp();
  const named = namingFields(app, table);
  const [chosen, setChosen] = useState<number | null>(null);
  const start = useMemo(
    () =>
      viewOf(
        placed.map((each) => each.point),
        size,
      ),
    // It begins with what was there first; what others save does not move it.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [],
  );
  const here = placed.find((each) => each.record.id === chosen);
  const press = (_: Point, [x, y]: readonly [number, number], dot: Dot): void => {
    const found = placed
      .map(({ record, point }) => ({ id: record.id, at: dot(point) }))
      .flatMap(({ id, at }) => (at === null ? [] : [{ id, far: Math.hypot(at[0] - x, at[1] - y) }]))
      .filter(({ far }) => far <= near)
      .sort((a, b) => a.far - b.far);
    setChosen(found[0]?.id ?? null);
  };
  return (
    <div className="map-and-names">
      <div className="place-map">
        <WorldMap
          label={`${list.name} on a map. Arrow keys move it, plus and minus zoom. The records are listed beside it.`}
          size={size}
          start={start}
          follows={here?.point ?? null}
          onPress={press}
        >
          {(dot) =>
            placed.map(({ record, point }) => {
              const at = dot(point);
              if (at === null) return null;
              const look = `map-record ${record.tone === undefined ? '' : `tone-${record.tone.tone}`} ${record.id === chosen ? 'on' : ''}`;
              return (
                <circle key={record.id} className={look} cx={at[0]} cy={at[1]} r={record.id === chosen ? 9 : 6}>
                  <title>{calledIn(named, record)}</title>
                </circle>
              );
            })
          }
        </WorldMap>
      </div>
      <div className="map-names">
        {here !== undefined && <RecordCard table={table} list={list} record={here.record} selection={selection} />}
        <ul aria-label={list.name}>
          {placed.map(({ record }) => (
            <li key={record.id}>
              <ToRecord table={table} record={record.id} selection={selection} onFocus={() => setChosen(record.id)} onPointerEnter={() => setChosen(record.id)}>
                {calledIn(named, record)}
              </ToRecord>
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}
