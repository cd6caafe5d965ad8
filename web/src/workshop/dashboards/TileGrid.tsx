import 'react-grid-layout/css/styles.css';
import { gridColumns, type Dashboard } from '@bibliona/core';
import { type KeyboardEvent } from 'react';
import { GridLayout, useContainerWidth, verticalCompactor, type Layout } from 'react-grid-layout';
import { TileView } from '../../ui/tiles/TileView.js';
import { styleNonce } from '../../ui/nonce.js';
import type { TriedTile } from './DashboardProof.js';
import type { Place } from './tile-draft.js';

// The style element with which dragging keeps texts from being selected bears the nonce of this page.
Object.assign(globalThis, { __webpack_nonce__: styleNonce });

// As wide and high as on the Desk, where the same numbers are in its style sheet.
const grid = { cols: gridColumns, rowHeight: 20, margin: [24, 8], containerPadding: [0, 0] } as const;
const arrows: Readonly<Record<string, readonly [dx: number, dy: number]>> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
const [narrowest, lowest, highest] = [2, 2, 30];

/** The tiles in their places: dragged by the title, resized at the corner, or both with arrow keys. */
export function TileGrid(props: {
  readonly dashboard: Dashboard;
  readonly tried: ReadonlyMap<string, TriedTile>;
  readonly chosen: string | null;
  readonly onChoose: (tile: string) => void;
  readonly onPlaces: (places: ReadonlyMap<string, Place>) => void;
}) {
  const { dashboard, tried, chosen, onChoose, onPlaces } = props;
  const { width, containerRef, mounted } = useContainerWidth();
  const layout: Layout = dashboard.tiles.map(({ id, place }) => ({ i: id, ...place, minW: narrowest, minH: lowest, maxH: highest }));
  const take = (next: Layout): void => onPlaces(new Map(next.map(({ i, x, y, w, h }) => [i, { x, y, w, h }])));
  const onKey = (event: KeyboardEvent, id: string, place: Place): void => {
    const [dx, dy] = arrows[event.key] ?? [0, 0];
    if ((dx === 0 && dy === 0) || event.target !== event.currentTarget) return;
    event.preventDefault();
    const within = (value: number, low: number, high: number): number => Math.min(Math.max(value, low), high);
    const next = event.shiftKey
      ? { ...place, w: within(place.w + dx, narrowest, gridColumns - place.x), h: within(place.h + dy, lowest, highest) }
      : { ...place, x: within(place.x + dx, 0, gridColumns - place.w), y: Math.max(place.y + dy, 0) };
    // Tiles that would lie over each other make room, as they do when one is dragged.
    take(
      verticalCompactor.compact(
        layout.map((layoutItem) => (layoutItem.i === id ? { ...layoutItem, ...next } : layoutItem)),
        gridColumns,
      ),
    );
  };
  return (
    <div className="tile-bench">
      <div ref={containerRef}>
        {mounted && (
          <GridLayout
            width={width}
            layout={layout}
            gridConfig={grid}
            dragConfig={{ handle: 'header', cancel: 'button', threshold: 4 }}
            onDragStop={take}
            onResizeStop={take}
          >
            {dashboard.tiles.map((tile) => {
              const found = tried.get(tile.id);
              return (
                <div
                  key={tile.id}
                  className={tile.id === chosen ? 'tile-held on' : 'tile-held'}
                  role="group"
                  aria-label={`Tile ${tile.name}`}
                  aria-current={tile.id === chosen ? 'true' : undefined}
                  tabIndex={0}
                  onClick={() => onChoose(tile.id)}
                  onKeyDown={(event) => {
                    if (event.key === 'Enter' && event.target === event.currentTarget) onChoose(tile.id);
                    else onKey(event, tile.id, tile.place);
                  }}
                >
                  <TileView tile={tile} answer={found?.answer} problem={found?.problem ?? null} />
                </div>
              );
            })}
          </GridLayout>
        )}
      </div>
    </div>
  );
}
