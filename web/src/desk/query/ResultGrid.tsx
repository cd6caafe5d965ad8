import { contract, isReference, mostRowsRead, type QueryResult, type ResultColumn, type SavedQuery, type Value } from '@bibliona/core';
import { useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { isQueryOf, onTouched } from '../../state/live.js';
import { locale } from '../../state/locale.js';
import { useRemembered } from '../../state/remembered.js';
import { DataGrid, type GridColumn } from '../../ui/grid/DataGrid.js';
import { NotRead } from '../../ui/grid/NotRead.js';
import { useShownRows } from '../../ui/grid/use-shown-rows.js';
import { Waiting } from '../../ui/Waiting.js';
import { askedRows, type Picking } from './picked.js';
import { wordsIn } from './words.js';

/** A row with its place among those that are picked. */
type PlacedRow = QueryResult['rows'][number] & { readonly place: number };

const placeColumn = 'place';

interface GridProps extends Picking {
  readonly query: SavedQuery;
  readonly found: number | null;
  /** Of all rows, by the id of their column. */
  readonly sums: Readonly<Record<string, string | null>>;
}

/** The rows of a query on a screen that has the space for columns: they come as one scrolls to them. */
export function ResultGrid({ query, found, sums, picked, change }: GridProps) {
  const app = useApp();
  const { id, version } = app;
  const params = { app: id, query: query.id };
  const asked = askedRows(picked);
  // What is in the columns comes with the first rows.
  const [shown, setShown] = useState<readonly ResultColumn[]>([]);
  const { rows, failure, again } = useShownRows<PlacedRow>(JSON.stringify([params, asked, version]), () => ({
    read: async (start, end) => {
      const answer = await call(contract.readQuery, { params, query: { ...asked, skip: start, limit: end - start, count: 'no' } });
      setShown((known) => (JSON.stringify(known) === JSON.stringify(answer.columns) ? known : answer.columns));
      const read = answer.rows.map((row, i): PlacedRow => ({ ...row, place: start + i + 1 }));
      return { rows: read, last: read.length < end - start || end >= mostRowsRead ? start + read.length : undefined };
    },
    idOf: (row) => row.place,
  }));
  useEffect(() => onTouched((tables) => isQueryOf(app.design, query.id, tables) && rows?.refresh()), [app.design, query.id, rows]);
  const [widths, setWidths] = useRemembered<string>(`widths ${id} ${query.id}`, '{}');
  const ownWidths = useMemo(() => readWidths(widths), [widths]);

  const columns = useMemo<readonly GridColumn<PlacedRow>[]>(
    () => [
      {
        ...plain,
        id: placeColumn,
        name: 'Row',
        width: 64,
        textOf: (row) => String(row.place),
        draw: (row, hasFocus) =>
          row.id === null ? (
            locale().count(row.place)
          ) : (
            <Link className="lk" to={`/desk/${id}/${query.table}/${row.id}`} aria-label={`Open record ${row.id}`} tabIndex={hasFocus ? 0 : -1}>
              {locale().count(row.place)}
            </Link>
          ),
      },
      ...shown.map((column, at): GridColumn<PlacedRow> => {
        const { table } = column;
        return {
          ...plain,
          id: column.id,
          name: column.name,
          width: ownWidths[column.id] ?? null,
          isRight: column.type === 'number',
          canSort: true,
          sorted: sortedBy(query, picked, column.id),
          textOf: (row) => wordsIn(column, row.cells[at] ?? null),
          sum: sums[column.id] === undefined ? undefined : wordsIn(column, sums[column.id] ?? null),
          ...(table === null
            ? {}
            : {
                draw: (row, hasFocus) => {
                  const value: Value = row.cells[at] ?? null;
                  if (!isReference(value)) return '';
                  return (
                    <Link className="lk" to={`/desk/${id}/${table}/${value.id}`} tabIndex={hasFocus ? 0 : -1}>
                      {value.caption}
                    </Link>
                  );
                },
              }),
        };
      }),
    ],
    // The query is of the app's version.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [id, version, shown, JSON.stringify(asked), JSON.stringify(sums), ownWidths],
  );
  return (
    <>
      <NotRead failure={failure} again={again} />
      {rows === null ? (
        failure === null && <Waiting />
      ) : (
        <div className="grid">
          <DataGrid<PlacedRow>
            label={`Rows of ${query.name}`}
            rows={rows}
            idOf={(row) => row.place}
            known={Math.min(found ?? 0, mostRowsRead)}
            columns={columns}
            onSort={(column) => change(sortNext(query, picked, column))}
            onWidth={(column, width) => column !== placeColumn && setWidths(JSON.stringify({ ...ownWidths, [column]: Math.round(width) }))}
            onMove={() => undefined}
            editing={null}
            onEdit={() => undefined}
            renderEditor={() => null}
          />
        </div>
      )}
    </>
  );
}

const plain = { isRight: false, isNameUnseen: false, sorted: null, canSort: false, canMove: false, canEdit: () => false } as const;

/** How a column is sorted: as was picked, or else as the query itself is. */
function sortedBy(query: SavedQuery, picked: Picking['picked'], column: string): 'up' | 'down' | null {
  const [first] = picked.sort === undefined ? query.order : [{ column: picked.sort, direction: picked.direction }];
  return first?.column === column ? first.direction : null;
}

/** A press on a column sorts it up, the next one down, and the third leaves the order of the query. */
function sortNext(query: SavedQuery, picked: Picking['picked'], column: string): Parameters<Picking['change']>[0] {
  const now = sortedBy(query, picked, column);
  if (now === null) return { sort: column, direction: 'up' };
  const isOwn = picked.sort === undefined;
  if (now === 'up') return { sort: column, direction: 'down' };
  return isOwn ? { sort: column, direction: 'up' } : { sort: undefined, direction: 'up' };
}

function readWidths(text: string): Readonly<Record<string, number>> {
  try {
    const read: unknown = JSON.parse(text);
    return typeof read === 'object' && read !== null ? (read as Record<string, number>) : {};
  } catch {
    return {};
  }
}
