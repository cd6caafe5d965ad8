import { scaleLinear } from 'd3-scale';
import type { ChartProps } from './kinds.js';
import { amountWords, labelWords } from './point-words.js';

/** One bar per point, from zero, its name before and its amount behind it. */
export function BarsView({ answer, onPoint }: ChartProps) {
  const { points, value } = answer;
  const words = labelWords(answer);
  const amounts = points.map((point) => Number(point.value ?? 0));
  const scale = scaleLinear()
    .domain([Math.min(0, ...amounts), Math.max(0, ...amounts)])
    .range([0, 100]);
  const zero = scale(0);
  return (
    <ul className="bars">
      {points.map((point, i) => {
        const end = scale(amounts[i] ?? 0);
        const name = words(point.label);
        const amount = amountWords(value, point.value);
        const bar = (
          <>
            <span className={point.label === null ? 'bar-name none' : 'bar-name'}>{name}</span>
            <span className="bar-room" aria-hidden="true">
              <i style={{ left: `${Math.min(zero, end)}%`, width: `${Math.abs(end - zero)}%` }} />
            </span>
            <span className="bar-amount">{amount}</span>
          </>
        );
        return (
          <li key={i}>
            {onPoint === undefined ? (
              <span className="bar-row">{bar}</span>
            ) : (
              <button type="button" className="bar-row" aria-label={`${name}, ${amount}: its records`} title={name} onClick={() => onPoint(point)}>
                {bar}
              </button>
            )}
          </li>
        );
      })}
    </ul>
  );
}
