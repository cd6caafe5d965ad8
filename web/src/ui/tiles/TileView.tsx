import '../../look/tiles.css';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { RowsIcon } from '@phosphor-icons/react';
import { isChart, type Tile, type TileAnswer } from '@bibliona/core';
import { useState, type ReactNode } from 'react';
import { PartSeenNote } from '../PartSeenNote.js';
import { Note } from '../Note.js';
import { Waiting } from '../Waiting.js';
import { FigureView } from './FigureView.js';
import { chartViews } from './kinds.js';
import { amountWords, labelWords, type Point, type Series } from './point-words.js';
import { locale } from '../../state/locale.js';

/** A tile of a dashboard: its name, what it shows, and the same as rows one press away. */
export function TileView(props: {
  readonly tile: Tile;
  readonly answer: TileAnswer | undefined;
  readonly problem: string | null;
  /** What a press on the figure or on a point does. */
  readonly onPoint?: ((point: Point | null) => void) | undefined;
  readonly children?: ReactNode;
}) {
  const { tile, answer, problem, onPoint, children } = props;
  const [isRows, setRows] = useState(false);
  return (
    <article className={isChart(tile) ? 'tile' : 'tile small'} aria-label={tile.name}>
      <header>
        <h2 className="el">{tile.name}</h2>
        {isChart(tile) && (
          <Tooltip title={isRows ? 'As a chart' : 'As rows'}>
            <IconButton aria-label="As rows" aria-pressed={isRows} onClick={() => setRows(!isRows)}>
              <RowsIcon size={14} />
            </IconButton>
          </Tooltip>
        )}
        {children}
      </header>
      {problem !== null && <Note kind="bad">{problem}</Note>}
      {problem === null && answer === undefined && <Waiting />}
      {problem === null && answer !== undefined && <Shown tile={tile} answer={answer} isRows={isRows} onPoint={onPoint} />}
    </article>
  );
}

interface ShownProps {
  readonly tile: Tile;
  readonly answer: TileAnswer;
  readonly isRows: boolean;
  readonly onPoint: ((point: Point | null) => void) | undefined;
}

function Shown({ tile, answer, isRows, onPoint }: ShownProps) {
  if (answer.seen === 'none') return <p className="q tile-none">You don't have access to the records of this tile.</p>;
  if (answer.kind === 'figure') {
    if (isChart(tile)) return null;
    const figure = <FigureView tile={tile} answer={answer} />;
    if (onPoint === undefined) return figure;
    return (
      <button type="button" className="figure-press" onClick={() => onPoint(null)} aria-label={`${tile.name}: its records`}>
        {figure}
      </button>
    );
  }
  if (!isChart(tile)) return null;
  if (answer.points.length === 0) return <p className="q tile-none">No records match this tile.</p>;
  const more = answer.more > 0 && (
    <p className="q sm tile-more">
      and {locale().count(answer.more)} more by {answer.label.name}
    </p>
  );
  const View = chartViews[tile.kind];
  return (
    <>
      {isRows ? <PointRows answer={answer} /> : <View answer={answer} onPoint={onPoint} />}
      {more}
      <PartSeenNote seen={answer.seen} className="q sm tile-more" />
    </>
  );
}

/** The points of a chart as a table. */
export function PointRows({ answer }: { readonly answer: Series }) {
  const words = labelWords(answer);
  return (
    <div className="point-rows" tabIndex={0} role="group" aria-label={`${answer.value.name} by ${answer.label.name}`}>
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">{answer.label.name}</th>
            <th scope="col" className="n">
              {answer.value.name}
            </th>
          </tr>
        </thead>
        <tbody>
          {answer.points.map((point, i) => (
            <tr key={i}>
              <td className={point.label === null ? 'none' : ''}>{words(point.label)}</td>
              <td className="n">{amountWords(answer.value, point.value)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
