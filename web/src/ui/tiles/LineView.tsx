import { scaleLinear, scalePoint, scaleUtc } from 'd3-scale';
import { line } from 'd3-shape';
import { useRef, useState, type KeyboardEvent } from 'react';
import type { ChartProps } from './kinds.js';
import { useSize } from './use-size.js';
import { amountWords, labelWords, positionOf, withGaps, type Point } from './point-words.js';

// At the left stand the amounts.
const margin = { top: 16, right: 14, bottom: 22, left: 52 };

interface Placed {
  readonly point: Point;
  readonly x: number;
  /** Null where there is no amount: the line is broken there. */
  readonly y: number | null;
}

/** A line over time, numbers or names. Points are reached by the pointer or by arrow keys; Enter opens their records. */
export function LineView({ answer, onPoint }: ChartProps) {
  const [box, { width, height }] = useSize();
  const [at, setAt] = useState<number | null>(null);
  const chart = useRef<SVGSVGElement>(null);
  const { label, value } = answer;
  const points = withGaps(answer);
  const words = labelWords(answer);
  const positions = points.map((point) => positionOf(label.type, point.label));
  const isContinuous = positions.every((position) => position !== null);
  const amounts = points.flatMap((point) => (point.value === null ? [] : [Number(point.value)]));
  const y = scaleLinear()
    .domain([Math.min(0, ...amounts), Math.max(0, ...amounts)])
    .nice(4)
    .range([height - margin.bottom, margin.top]);
  const range: [number, number] = [margin.left, Math.max(width - margin.right, margin.left + 1)];
  const time = scaleUtc().range(range);
  const number = scaleLinear().range(range);
  const ends = isContinuous ? [Math.min(...positions), Math.max(...positions)] : [0, 1];
  time.domain(ends);
  number.domain(ends);
  const named = scalePoint<number>()
    .domain(points.map((_, i) => i))
    .range(range);
  const xOf = (i: number): number => (!isContinuous ? (named(i) ?? range[0]) : label.type === 'date' ? time(positions[i] ?? 0) : number(positions[i] ?? 0));
  const placed = points.map((point, i): Placed => ({ point, x: xOf(i), y: point.value === null ? null : y(Number(point.value)) }));
  const path = line<Placed>()
    .defined((each) => each.y !== null)
    .x((each) => each.x)
    .y((each) => each.y ?? 0);
  const many = Math.max(2, Math.floor(width / 90));
  const marks: readonly { readonly x: number; readonly label: string }[] = !isContinuous
    ? placed.filter((_, i) => i % Math.ceil(points.length / many) === 0).map((each) => ({ x: each.x, label: words(each.point.label) }))
    : label.type === 'date'
      ? time.ticks(many).map((tick) => ({ x: time(tick), label: time.tickFormat(many)(tick) }))
      : number.ticks(many).map((tick) => ({ x: number(tick), label: amountWords({ ...label, digits: null }, String(tick)) }));
  const here = Math.min(at ?? placed.length, placed.length - 1);
  const shown = placed[here];
  const saysOf = (point: Point): string => `${words(point.label)}: ${amountWords(value, point.value)}`;
  const onKey = (event: KeyboardEvent): void => {
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (by !== undefined) setAt(Math.min(Math.max(here + by, 0), placed.length - 1));
    else if (event.key === 'Home') setAt(0);
    else if (event.key === 'End') setAt(placed.length - 1);
    else if ((event.key === 'Enter' || event.key === ' ') && shown !== undefined) onPoint?.(shown.point);
    else return;
    event.preventDefault();
  };
  const nearest = (clientX: number): number => {
    const left = chart.current?.getBoundingClientRect().left ?? 0;
    const distances = placed.map((each) => (each.y === null ? Number.POSITIVE_INFINITY : Math.abs(each.x - (clientX - left))));
    return Math.max(distances.indexOf(Math.min(...distances)), 0);
  };
  return (
    <div className="line-box" ref={box}>
      {width > 0 && height > 40 && placed.length > 0 && (
        <svg
          ref={chart}
          width={width}
          height={height}
          role={onPoint === undefined ? 'img' : 'button'}
          tabIndex={onPoint === undefined ? undefined : 0}
          aria-label={shown === undefined ? value.name : `${value.name}, ${placed.length} points. ${saysOf(shown.point)}`}
          onKeyDown={onKey}
          onPointerMove={(event) => setAt(nearest(event.clientX))}
          onPointerLeave={() => setAt(null)}
          onClick={(event) => {
            const point = placed[nearest(event.clientX)]?.point;
            if (point !== undefined) onPoint?.(point);
          }}
        >
          {y.ticks(4).map((tick) => (
            <g key={tick}>
              <line x1={0} x2={width - margin.right} y1={y(tick)} y2={y(tick)} className={tick === 0 ? 'axis-zero' : 'axis-line'} />
              {tick !== 0 && (
                <text x={0} y={y(tick) - 4} className="axis-word">
                  {amountWords({ ...value, digits: null }, String(tick))}
                </text>
              )}
            </g>
          ))}
          {marks.map((mark, i) => (
            <text key={i} x={mark.x} y={height - 6} textAnchor={mark.x > width - 50 ? 'end' : mark.x < 24 ? 'start' : 'middle'} className="axis-word">
              {mark.label}
            </text>
          ))}
          <path d={path(placed) ?? ''} className="line-path" />
          {/* A point without one before or after it is on no line. */}
          {placed.map(
            ({ x, y: at }, i) =>
              at !== null && placed[i - 1]?.y == null && placed[i + 1]?.y == null && <circle key={i} cx={x} cy={at} r={3} className="line-here" />,
          )}
          {shown !== undefined && shown.y !== null && <circle cx={shown.x} cy={shown.y} r={4} className="line-here" />}
        </svg>
      )}
      {shown !== undefined && <p className="line-says q sm">{saysOf(shown.point)}</p>}
    </div>
  );
}
