import { contract, pointOf, type Field, type Point } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useContext, useMemo, useState } from 'react';
import { call } from '../state/api.js';
import { useApp } from '../state/app.js';
import { keys } from '../state/keys.js';
import { RecordAt } from '../ui/files/held.js';
import { viewOf, WorldMap, type View } from '../ui/map/WorldMap.js';

const size = { width: 420, height: 230 } as const;

/** A point on a map that needs no service: pressed where the place is, moved by dragging or the arrow keys. */
export function PlaceMap({ field, point, onPick }: { readonly field: Field; readonly point: Point | null; readonly onPick: (point: Point) => void }) {
  const others = useOthers(field, point);
  const [start] = useState<View>(() => startOf(point, others));
  return (
    <div className="place-map">
      <WorldMap
        label={`Map for ${field.name}. Arrow keys move it, plus and minus zoom, Enter sets the place at its centre.`}
        size={size}
        start={start}
        follows={point}
        onPress={onPick}
      >
        {(dot) => {
          const here = point === null ? null : dot(point);
          return (
            <>
              {others.map((other) => {
                const at = dot(other.point);
                return at === null ? null : (
                  <circle key={other.id} className="map-other" cx={at[0]} cy={at[1]} r={4}>
                    <title>{other.caption}</title>
                  </circle>
                );
              })}
              {here !== null && <path className="map-here" d={`M${here[0]} ${here[1]}l-7 -12a8 8 0 1 1 14 0Z`} />}
            </>
          );
        }}
      </WorldMap>
      <p className="q sm">Press where the place is. Drag to move the map.{others.length > 0 && ' Grey points are the nearest other records.'}</p>
    </div>
  );
}

/** A place is shown with the country around it; without one the map begins where the other records are, or with the world. */
function startOf(point: Point | null, others: readonly Other[]): View {
  const first = point ?? others[0]?.point;
  return first === undefined ? viewOf([], size) : { centre: first, scale: 6000 };
}

interface Other {
  readonly id: number;
  readonly caption: string;
  readonly point: Point;
}
/** Digits of a degree by which the map is asked for other records: about a kilometre. */
const asked = 2;

/** The nearest other records of the list, as far as the person sees them. */
function useOthers(field: Field, point: Point | null): readonly Other[] {
  const app = useApp();
  const here = useContext(RecordAt);
  const table = app.design.tables.find((item) => item.fields.some((each) => each.id === field.id))?.id ?? '';
  const at = point === null ? {} : { latitude: point.latitude.toFixed(asked), longitude: point.longitude.toFixed(asked) };
  const { data } = useQuery({
    queryKey: keys.places(app.id, table, at),
    queryFn: () => call(contract.readNearest, { params: { app: app.id, table, field: field.id }, query: at }),
    enabled: app.rights[table]?.see === true,
    placeholderData: (before) => before,
  });
  return useMemo(
    () =>
      (data?.records ?? []).flatMap(({ id, caption, place }) => {
        const its = pointOf(place);
        return its === null || id === here?.record ? [] : [{ id, caption, point: its }];
      }),
    [data, here],
  );
}
