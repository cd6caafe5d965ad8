import { printValue, type Field, type FieldStatistics } from '@bibliona/core';
import { viewOf } from '../../fields/kinds.js';
import { locale } from '../../state/locale.js';

const [width, height] = [76, 22];
// With more distinct values than this, bars of the most frequent ones say nothing; a ruler says "all different".
const mostBars = 16;
// More parts of a whole can't be told apart.
const mostParts = 6;

/** A small picture of a field's values, and under it how much is filled and how many values are distinct. */
export function FieldPicture({ field, statistics }: { readonly field: Field; readonly statistics: FieldStatistics | undefined }) {
  if (statistics === undefined) return <span className="picture" />;
  const { rows, filled, distinct } = statistics;
  const part = rows === 0 ? 0 : Math.floor((filled / rows) * 100);
  return (
    <span className="picture">
      <svg width={width} height={height} role="img" aria-label={words(field, statistics)}>
        <title>{words(field, statistics)}</title>
        <Bars field={field} statistics={statistics} />
      </svg>
      <span className="fd">
        <span>{part} %</span>
        <span>{locale().count(distinct)}</span>
      </span>
    </span>
  );
}

function Bars({ field, statistics }: { readonly field: Field; readonly statistics: FieldStatistics }) {
  const { spread, distinct, filled, low } = statistics;
  const most = Math.max(...spread, 0);
  if (most === 0) return <path d={`M0 ${height - 0.5}H${width}`} stroke="var(--rule2)" />;
  // Only values that have a smallest and a largest are spread over a scale.
  const isNumber = low !== null;
  if (!isNumber && distinct > mostBars && most <= filled * 0.02) {
    return <path d={Array.from({ length: 26 }, (_, i) => `M${i * 3 + 0.5} 14V${height}`).join('')} stroke="var(--rule2)" fill="none" />;
  }
  if (viewOf(field).picture === 'parts' && spread.length <= mostParts) {
    const total = spread.reduce((sum, n) => sum + n, 0);
    let x = 0;
    return spread.map((n, i) => {
      const w = (n / total) * width;
      x += w;
      return <rect key={i} x={x - w} y={11} width={Math.max(w - 1, 1)} height={11} fill="var(--c1)" opacity={1 - i * (0.7 / Math.max(spread.length, 2))} />;
    });
  }
  const step = width / (isNumber ? spread.length : Math.max(spread.length, 8));
  return spread.map((n, i) => {
    const h = n === 0 ? 0 : Math.max((n / most) * height, 1);
    return <rect key={i} x={i * step} y={height - h} width={Math.max(step - 1, 1)} height={h} fill="var(--c1)" opacity={0.72} />;
  });
}

/** The same in words, for people who do not see the picture. */
function words(field: Field, { rows, filled, distinct, low, high }: FieldStatistics): string {
  const range = low === null || high === null ? '' : `, from ${printValue(field, low, locale())} to ${printValue(field, high, locale())}`;
  return `${field.name}: ${locale().count(filled)} of ${locale().count(rows)} filled, ${locale().count(distinct)} distinct${range}`;
}
