import { PartSeenNote } from '../PartSeenNote.js';
import { judge, reachesTarget, scaleOf, type TileAnswer, type TileOf } from '@bibliona/core';
import { amountWords } from './point-words.js';
import { locale } from '../../state/locale.js';

type Figure = TileOf<'figure'>;
type Answer = Extract<TileAnswer, { kind: 'figure' }>;

/** A number on its ranges, with its target and what to think of it in one sentence. */
export function FigureView({ tile, answer }: { readonly tile: Figure; readonly answer: Answer }) {
  const { value, type, rows } = answer;
  const number = (amount: number): string => amountWords({ ...answer, type: 'number' }, String(amount));
  return (
    <div className="figure">
      <p className="figure-value">{value === null ? <span className="q">no values yet</span> : amountWords(answer, value)}</p>
      {type === 'number' && (tile.target !== null || tile.judgement !== null) && <Scale tile={tile} value={value} />}
      <p className="q sm">
        {sentence(tile, value, rows, number)}
        {answer.seen === 'part' && '. '}
        <PartSeenNote seen={answer.seen} />
      </p>
    </div>
  );
}

function sentence(tile: Figure, value: string | null, rows: number, number: (amount: number) => string): string {
  const from = `from ${locale().count(rows)} ${rows === 1 ? 'row' : 'rows'}`;
  const isLower = tile.judgement?.better === 'lower';
  const judged = tile.judgement === null || value === null ? '' : `${judge(value, tile.judgement)}; `;
  const reached = reachesTarget(value, tile);
  if (tile.target === null || reached === null || value === null) return `${judged}${from}`;
  const goal = `${isLower ? 'goal: at most' : 'goal'} ${number(tile.target)}`;
  const gap = number(Math.abs(tile.target - Number(value)));
  return `${judged}${goal}, ${reached ? 'reached' : `${gap} ${isLower ? 'over it' : 'to go'}`}`;
}

/** Ranges of judgement in tints, the value as a bar, the target as a tick. */
function Scale({ tile, value }: { readonly tile: Figure; readonly value: string | null }) {
  const [low, high] = scaleOf(value, tile);
  const at = (amount: number): number => ((Math.min(Math.max(amount, low), high) - low) / (high - low)) * 100;
  const { judgement, target } = tile;
  const bounds = judgement === null ? [] : [judgement.fairFrom, judgement.goodFrom].sort((a, b) => a - b);
  const ends = [0, ...bounds.map(at), 100];
  // From the poor side to the good one, whichever side that is.
  const tints = judgement === null ? ['h0'] : judgement.better === 'higher' ? ['h0', 'h1', 'h2'] : ['h2', 'h1', 'h0'];
  const amount = value === null ? 0 : Number(value);
  const [from, to] = [at(Math.min(0, amount)), at(Math.max(0, amount))];
  return (
    <div className="scale" aria-hidden="true">
      {tints.map((tint, i) => (
        <i key={i} style={{ left: `${ends[i] ?? 0}%`, width: `${(ends[i + 1] ?? 100) - (ends[i] ?? 0)}%`, background: `var(--${tint})` }} />
      ))}
      <b className={reachesTarget(value, tile) === false ? 'short' : ''} style={{ left: `${from}%`, width: `${to - from}%` }} />
      {target !== null && <u style={{ left: `${at(target)}%` }} />}
    </div>
  );
}
