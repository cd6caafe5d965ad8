import IconButton from '@mui/material/IconButton';
import { MinusIcon, PlusIcon } from '@phosphor-icons/react';
import { contract, pointOf, type Field, type Point } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { geoBounds, geoGraticule, geoMercator, geoPath, type GeoPermissibleObjects } from 'd3-geo';
import { useContext, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { feature } from 'topojson-client';
import type { GeometryCollection, Topology } from 'topojson-specification';
import world from 'world-atlas/countries-50m.json';
import { call } from '../state/api.js';
import { useApp } from '../state/app.js';
import { keys } from '../state/keys.js';
import { locale } from '../state/locale.js';
import { RecordAt } from '../ui/files/held.js';

const topology = world as unknown as Topology<{ countries: GeometryCollection }>;
interface Land {
  readonly shape: GeoPermissibleObjects;
  /** West, south, east, north, in degrees; west is east of east where it crosses the date line. */
  readonly bounds: readonly [number, number, number, number];
}
const lands: readonly Land[] = feature(topology, topology.objects.countries).features.map((shape) => {
  const [[west, south], [east, north]] = geoBounds(shape);
  return { shape, bounds: [west, south, east, north] };
});

const [width, height] = [420, 230];
const earthRadius = 6371;
/** Pixels of a radian: the whole world, and a few streets. */
const [farthest, nearest] = [width / (2 * Math.PI), 2_000_000];
/** Mercator's projection has no poles. */
const northmost = 84;

interface View {
  readonly centre: Point;
  readonly scale: number;
}
const kept = (value: number, most: number): number => Math.max(-most, Math.min(most, value));
const turned = (longitude: number): number => ((((longitude + 180) % 360) + 360) % 360) - 180;

const projectionOf = ({ centre, scale }: View) =>
  geoMercator()
    // Turning the globe and not the paper: the date line is never an edge.
    .rotate([-centre.longitude, 0])
    .center([0, centre.latitude])
    .scale(scale)
    .translate([width / 2, height / 2])
    .clipExtent([
      [-2, -2],
      [width + 2, height + 2],
    ]);

/** A length of 1, 2 or 5 and zeros that fits into so many pixels, in kilometres. */
function scaleBar(view: View): { readonly pixels: number; readonly words: string } {
  const kilometres = (pixels: number): number => (pixels / view.scale) * earthRadius * Math.cos((view.centre.latitude * Math.PI) / 180);
  const most = kilometres(120);
  const power = 10 ** Math.floor(Math.log10(most));
  const length = [5, 2, 1].find((step) => step * power <= most) ?? 1;
  const size = length * power;
  return { pixels: size / kilometres(1), words: size >= 1 ? `${locale().number(String(size))} km` : `${locale().number(String(Math.round(size * 1000)))} m` };
}

const gridSteps = [0.01, 0.05, 0.1, 0.5, 1, 5, 10, 30];

/** A point on a map that needs no service: pressed where the place is, moved by dragging or the arrow keys. */
export function PlaceMap({ field, point, onPick }: { readonly field: Field; readonly point: Point | null; readonly onPick: (point: Point) => void }) {
  const others = useOthers(field, point);
  const [view, setView] = useState<View>(() => startOf(point, others));
  const [seen, setSeen] = useState(point);
  const drag = useRef<{ readonly x: number; readonly y: number; readonly from: View; isMoved: boolean } | null>(null);
  if (seen?.latitude !== point?.latitude || seen?.longitude !== point?.longitude) {
    setSeen(point);
    // What is typed comes into sight; what was pressed is there already.
    if (point !== null && !isInside(view, point)) setView({ ...view, centre: point });
  }
  const projection = useMemo(() => projectionOf(view), [view]);
  const paths = useMemo(() => {
    const path = geoPath(projection);
    // In degrees that are to be seen, across and up, with some more.
    const across = Math.min(180, (width / view.scale) * (180 / Math.PI) * 0.6);
    const up = Math.min(90, (height / view.scale) * (180 / Math.PI) * 0.6);
    const { latitude, longitude } = view.centre;
    const isNear = ([west, south, east, north]: Land['bounds']): boolean => {
      if (south > latitude + up || north < latitude - up) return false;
      const half = ((east - west + 360) % 360 || 360) / 2;
      return Math.abs(turned(west + half - longitude)) <= half + across;
    };
    const step = gridSteps.find((one) => across / one <= 6) ?? 30;
    const lines = geoGraticule()
      .extent([
        [longitude - across, Math.max(-northmost, latitude - up)],
        [longitude + across, Math.min(northmost, latitude + up)],
      ])
      .step([step, step]);
    return { land: lands.filter((land) => isNear(land.bounds)).map((land) => path(land.shape) ?? ''), grid: path(lines()) ?? '' };
  }, [projection, view]);

  const zoom = (by: number): void => setView({ ...view, scale: Math.max(farthest, Math.min(nearest, view.scale * by)) });
  const move = (from: View, x: number, y: number): void => {
    const at = projectionOf(from).invert?.([width / 2 - x, height / 2 - y]);
    if (at != null) setView({ ...from, centre: { latitude: kept(at[1], northmost), longitude: turned(at[0]) } });
  };
  const pick = (x: number, y: number): void => {
    const at = projection.invert?.([x, y]);
    if (at != null) onPick({ latitude: at[1], longitude: turned(at[0]) });
  };
  /** In the units of the drawing, however large it is shown. */
  const placeOf = (event: PointerEvent<SVGSVGElement>): readonly [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    return [((event.clientX - box.left) / box.width) * width, ((event.clientY - box.top) / box.height) * height];
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const step = 40;
    const act = (
      {
        ArrowLeft: () => move(view, step, 0),
        ArrowRight: () => move(view, -step, 0),
        ArrowUp: () => move(view, 0, step),
        ArrowDown: () => move(view, 0, -step),
        '+': () => zoom(2),
        '-': () => zoom(0.5),
        Enter: () => pick(width / 2, height / 2),
      } as const
    )[event.key];
    if (act === undefined) return;
    event.preventDefault();
    act();
  };
  const dot = (at: Point) => projection([at.longitude, at.latitude]);
  const here = point === null ? null : dot(point);
  const bar = scaleBar(view);
  return (
    <div className="place-map">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="application"
        aria-label={`Map for ${field.name}. Arrow keys move it, plus and minus zoom, Enter sets the place at its centre.`}
        tabIndex={0}
        onKeyDown={onKeyDown}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          const [x, y] = placeOf(event);
          drag.current = { x, y, from: view, isMoved: false };
        }}
        onPointerMove={(event) => {
          const { current } = drag;
          if (current === null) return;
          const [x, y] = placeOf(event);
          if (!current.isMoved && Math.hypot(x - current.x, y - current.y) < 4) return;
          current.isMoved = true;
          move(current.from, x - current.x, y - current.y);
        }}
        onPointerUp={(event) => {
          const isPress = drag.current?.isMoved === false;
          drag.current = null;
          if (isPress) pick(...placeOf(event));
        }}
        onPointerCancel={() => {
          drag.current = null;
        }}
      >
        <path className="map-grid" d={paths.grid} />
        {paths.land.map((d, i) => (
          <path key={i} className="map-land" d={d} />
        ))}
        {others.map((other) => {
          const at = dot(other.point);
          return at === null ? null : (
            <circle key={other.id} className="map-other" cx={at[0]} cy={at[1]} r={4}>
              <title>{other.caption}</title>
            </circle>
          );
        })}
        <path className="map-centre" d={`M${width / 2 - 8} ${height / 2}h16M${width / 2} ${height / 2 - 8}v16`} />
        {here !== null && <path className="map-here" d={`M${here[0]} ${here[1]}l-7 -12a8 8 0 1 1 14 0Z`} />}
        <g className="map-scale" transform={`translate(12 ${height - 14})`}>
          <path d={`M0 -5v5h${bar.pixels}v-5`} />
          <text x={bar.pixels + 6} y={1}>
            {bar.words}
          </text>
        </g>
      </svg>
      <div className="map-zoom">
        <IconButton aria-label="Zoom in" onClick={() => zoom(2)}>
          <PlusIcon size={16} />
        </IconButton>
        <IconButton aria-label="Zoom out" onClick={() => zoom(0.5)}>
          <MinusIcon size={16} />
        </IconButton>
      </div>
      <p className="q sm">Press where the place is. Drag to move the map.{others.length > 0 && ' Grey points are the nearest other records.'}</p>
    </div>
  );
}

function isInside(view: View, point: Point): boolean {
  const at = projectionOf(view)([point.longitude, point.latitude]);
  return at !== null && at[0] > 0 && at[0] < width && at[1] > 0 && at[1] < height;
}

/** A place is shown with the country around it; without one the map begins where the other records are, or with the world. */
function startOf(point: Point | null, others: readonly Other[]): View {
  const scale = 6000;
  const first = others[0]?.point;
  if (point !== null) return { centre: point, scale };
  return first === undefined ? { centre: { latitude: 30, longitude: 0 }, scale: farthest } : { centre: first, scale };
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
  const table = app.design.tables.find((one) => one.fields.some((each) => each.id === field.id))?.id ?? '';
  const at = point === null ? {} : { latitude: point.latitude.toFixed(asked), longitude: point.longitude.toFixed(asked) };
  const { data } = useQuery({
    queryKey: keys.places(app.id, table, at),
    queryFn: () => call(contract.readNearest, { params: { app: app.id, table, field: field.id }, query: at }),
    enabled: table !== '',
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
