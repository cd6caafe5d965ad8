import { contract, hasOwnColumns, questionOf, tableOf, type Tile, type TileAnswer } from '@bibliona/core';
import { keepPreviousData, useQueries } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { RegisterMark } from '../../ui/Mark.js';
import { amountWords } from '../../ui/tiles/point-words.js';
import { PointRows } from '../../ui/tiles/TileView.js';
import { conditionWords } from '../queries/query-draft.js';
import { pickedName, pickedOf } from '../rows/row-sources.js';
import { locale } from '../../state/locale.js';

/** What a tile gives while it is being made. */
export interface TriedTile {
  readonly answer: TileAnswer | undefined;
  readonly problem: string | null;
}

const pause = 350;
/** Where a tile stands does not change what it gives. */
const unplaced = (tile: Tile): Tile => ({ ...tile, name: 'tile', place: { x: 0, y: 0, w: 2, h: 2 } });

/** What the tiles give on real records, a moment after each edit. */
export function useTriedTiles(tiles: readonly Tile[]): ReadonlyMap<string, TriedTile> {
  const app = useApp();
  const [asked, setAsked] = useState(tiles);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(tiles), pause);
    return () => clearTimeout(timer);
  }, [tiles]);
  // A tile that has just been added is asked at once: it has nothing to show meanwhile.
  const current = tiles.map((tile) => asked.find((each) => each.id === tile.id) ?? tile);
  return useQueries({
    queries: current.map((tile) => ({
      queryKey: keys.triedTile(app.id, unplaced(tile)),
      queryFn: () => call(contract.tryTile, { params: { app: app.id }, body: { tile: unplaced(tile) } }),
      placeholderData: keepPreviousData,
      retry: false,
      staleTime: 30_000,
    })),
    combine: (found) =>
      new Map(
        found.map((useQueryResult, i): [string, TriedTile] => [
          current[i]?.id ?? '',
          { answer: useQueryResult.data, problem: useQueryResult.isError ? messageOf(useQueryResult.error) : null },
        ]),
      ),
  });
}

/** What each tile rests on, and the points of the one that is chosen. */
export function DashboardProof(props: {
  readonly tiles: readonly Tile[];
  readonly tried: ReadonlyMap<string, TriedTile>;
  readonly chosen: Tile | undefined;
  readonly onChoose: (tile: string) => void;
}) {
  const { tiles, tried, chosen, onChoose } = props;
  const wrong = tiles.filter((tile) => (tried.get(tile.id)?.problem ?? null) !== null).length;
  const points = chosen === undefined ? undefined : tried.get(chosen.id)?.answer;
  return (
    <div className="pull">
      <div className="slug">
        <RegisterMark />
        <b>Proof</b>
        <span className="q el">the data behind each tile, from real records</span>
        <span className="end">
          <span className="strip" aria-hidden="true">
            {tiles.map((tile) => (
              <i key={tile.id} className={(tried.get(tile.id)?.problem ?? null) === null ? '' : 'bad'} />
            ))}
          </span>
          <span>
            {tiles.length - wrong} of {tiles.length} {tiles.length === 1 ? 'tile reads' : 'tiles read'} well
          </span>
          <RegisterMark />
        </span>
      </div>
      <div className="trim tile-proof">
        <div className="tile-list" tabIndex={0} role="group" aria-label="Tiles and their data">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Tile</th>
                <th scope="col">Made from</th>
                <th scope="col" className="n">
                  Gives
                </th>
              </tr>
            </thead>
            <tbody>
              {tiles.map((tile) => (
                <tr key={tile.id} className={tile === chosen ? 'on' : ''}>
                  <td>
                    <button type="button" className="lk" onClick={() => onChoose(tile.id)}>
                      {tile.name}
                    </button>
                  </td>
                  <td className="q">
                    <MadeFrom tile={tile} />
                  </td>
                  <td className="n">{gives(tried.get(tile.id))}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        {points?.kind === 'series' && <PointRows answer={points} />}
      </div>
    </div>
  );
}

function gives(tried: TriedTile | undefined): string {
  if (tried === undefined || (tried.answer === undefined && tried.problem === null)) return '…';
  if (tried.problem !== null || tried.answer === undefined) return 'cannot be read';
  const { answer } = tried;
  if (answer.kind === 'figure') return `${amountWords(answer, answer.value)} from ${locale().count(answer.rows)}`;
  const all = answer.points.length + answer.more;
  return `${locale().count(all)} ${all === 1 ? 'point' : 'points'}`;
}

function MadeFrom({ tile }: { readonly tile: Tile }) {
  const { design } = useApp();
  const { source } = tile;
  const question = questionOf(source, design);
  if (question === null) return <>nothing now</>;
  if (!hasOwnColumns(source)) return <>{pickedName(pickedOf(source), design)}</>;
  const { name } = tableOf(design, source.table);
  return <>{source.condition.trim() === '' ? `every one of ${name}` : `${name} where ${conditionWords(question, design)}`}</>;
}
