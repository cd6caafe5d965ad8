import IconButton from '@mui/material/IconButton';
import { MinusIcon, PlusIcon } from '@phosphor-icons/react';
import type { Point } from '@bibliona/core';
import { geoBounds, geoGraticule, geoMercator, geoPath, type GeoPermissibleObjects } from 'd3-geo';
import { useMemo, useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import { feature } from 'topojson-client';
import type { GeometryCollection, Topology } from 'topojson-specification';
import world from 'world-atlas/countries-50m.json';
import { locale } from '../../state/locale.js';

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

/** Of the drawing, in its own units: it is shown as large as there is room. */
export interface Size {
  readonly width: number;
  readonly height: number;
}
const earthRadius = 6371;
/** Pixels of a radian: a few streets. */
const nearest = 2_000_000;
/** The whole world. */
const farthest = ({ width }: Size): number => width / (2 * Math.PI);
/** Mercator's projection has no poles. */
const northmost = 84;

export interface View {
  readonly centre: Point;
  readonly scale: number;
}
const within = (value: number, most: number): number => Math.max(-most, Math.min(most, value));
const turned = (longitude: number): number => ((((longitude + 180) % 360) + 360) % 360) - 180;

const projectionOf = ({ centre, scale }: View, { width, height }: Size) =>
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

/** The view in which all of these points are in sight; without one, the world. */
export function viewOf(points: readonly Point[], size: Size): View {
  const [first] = points;
  if (first === undefined) return { centre: { latitude: 30, longitude: 0 }, scale: farthest(size) };
  // Distances from the first: points on both sides of the date line lie near each other.
  const [across, up] = [points.map((point) => turned(point.longitude - first.longitude)), points.map((point) => point.latitude)];
  const middle = (values: readonly number[]): number => (Math.min(...values) + Math.max(...values)) / 2;
  const span = (values: readonly number[]): number => ((Math.max(...values) - Math.min(...values)) * Math.PI) / 180;
  const fits = Math.min(size.width / Math.max(span(across), 0.004), size.height / Math.max(span(up) * 1.8, 0.004)) * 0.8;
  return {
    centre: { latitude: within(middle(up), northmost), longitude: turned(first.longitude + middle(across)) },
    scale: Math.max(farthest(size), Math.min(nearest, fits)),
  };
}

/** Whether a point is in sight. */
function isInside(view: View, point: Point, size: Size): boolean {
  const at = projectionOf(view, size)([point.longitude, point.latitude]);
  return at !== null && at[0] > 0 && at[0] < size.width && at[1] > 0 && at[1] < size.height;
}

/** Where a point of the earth is on the drawing; null: beyond it. */
export type Dot = (point: Point) => readonly [number, number] | null;

/** A map of the world that needs no service: dragged, zoomed, moved with the arrow keys, and pressed. */
export function WorldMap(props: {
  /** What it is read aloud as. */
  readonly label: string;
  readonly size: Size;
  /** What it shows at first. */
  readonly start: View;
  /** Brought into sight whenever it changes. */
  readonly follows: Point | null;
  /** A press at a place, as a point of the earth and as one of the drawing; by the key Enter at the centre. */
  readonly onPress: (point: Point, at: readonly [number, number], dot: Dot) => void;
  /** What is drawn on it. */
  readonly children: (dot: Dot) => ReactNode;
}) {
  const { label, size, start, follows, onPress, children } = props;
  const { width, height } = size;
  const [view, setView] = useState<View>(start);
  const [seen, setSeen] = useState(follows);
  const drag = useRef<{ readonly x: number; readonly y: number; readonly from: View; isMoved: boolean } | null>(null);
  if (seen?.latitude !== follows?.latitude || seen?.longitude !== follows?.longitude) {
    setSeen(follows);
    // What is typed comes into sight; what was pressed is there already.
    if (follows !== null && !isInside(view, follows, size)) setView({ ...view, centre: follows });
  }
  const projection = useMemo(() => projectionOf(view, size), [view, size]);
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
    const step = gridSteps.find((each) => across / each <= 6) ?? 30;
    const lines = geoGraticule()
      .extent([
        [longitude - across, Math.max(-northmost, latitude - up)],
        [longitude + across, Math.min(northmost, latitude + up)],
      ])
      .step([step, step]);
    return { land: lands.filter((land) => isNear(land.bounds)).map((land) => path(land.shape) ?? ''), grid: path(lines()) ?? '' };
  }, [projection, view, width, height]);

  const dot: Dot = (at) => projection([at.longitude, at.latitude]);
  const zoom = (by: number): void => setView({ ...view, scale: Math.max(farthest(size), Math.min(nearest, view.scale * by)) });
  const move = (from: View, x: number, y: number): void => {
    const at = projectionOf(from, size).invert?.([width / 2 - x, height / 2 - y]);
    if (at != null) setView({ ...from, centre: { latitude: within(at[1], northmost), longitude: turned(at[0]) } });
  };
  const pick = (x: number, y: number): void => {
    const at = projection.invert?.([x, y]);
    if (at != null) onPress({ latitude: at[1], longitude: turned(at[0]) }, [x, y], dot);
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
  const bar = scaleBar(view);
  return (
    <>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="application"
        aria-label={label}
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
        {paths.land.map((d, i) => (
          <path key={i} className="map-land" d={d} />
        ))}
        <path className="map-grid" d={paths.grid} />
        {children(dot)}
        <path className="map-centre" d={`M${width / 2 - 8} ${height / 2}h16M${width / 2} ${height / 2 - 8}v16`} />
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
    </>
  );
}
