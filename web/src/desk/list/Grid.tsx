import {
  CellStyleModule,
  ColumnApiModule,
  ColumnAutoSizeModule,
  CustomEditorModule,
  InfiniteRowModelModule,
  ModuleRegistry,
  RenderApiModule,
  RowApiModule,
  ScrollApiModule,
  SelectEditorModule,
  TextEditorModule,
  themeQuartz,
  type CellEditRequestEvent,
  type CellKeyDownEvent,
  type ColDef,
  type FullWidthCellKeyDownEvent,
  type GridApi,
  type IDatasource,
} from 'ag-grid-community';
import { AgGridReact, type CustomCellRendererProps } from 'ag-grid-react';
import {
  contract,
  fieldKinds,
  hasOwnNumber,
  printValue,
  written,
  type Field,
  type ListColumns,
  type RecordAnswer,
  type Selection,
  type Table,
  type Typed,
  type Value,
} from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { ApiRefusal, call, messageOf } from '../../state/api.js';
import { useApp, useRights, type AppInHand } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { onTouched } from '../../state/live.js';
import { Note } from '../../ui/Note.js';
import { OpenRecord } from '../../ui/OpenRecord.js';
import { styleNonce } from '../../ui/nonce.js';
import { typedOf, valueOf } from '../record/draft.js';
import { pageSource } from './page-source.js';
import { viewOf } from '../../fields/kinds.js';
import { withSelection } from './selection.js';
import { locale } from '../../state/locale.js';
import { isAlignedRight } from '../../fields/aligned.js';

ModuleRegistry.registerModules([
  InfiniteRowModelModule,
  TextEditorModule,
  SelectEditorModule,
  CustomEditorModule,
  RowApiModule,
  RenderApiModule,
  ScrollApiModule,
  CellStyleModule,
  ColumnApiModule,
  ColumnAutoSizeModule,
]);

const look = themeQuartz.withParams({
  backgroundColor: 'var(--sheet)',
  foregroundColor: 'var(--ink)',
  accentColor: 'var(--green)',
  headerBackgroundColor: 'var(--sheet)',
  headerTextColor: 'var(--ink)',
  headerFontWeight: 600,
  headerHeight: 32,
  rowHeight: 32,
  fontFamily: 'var(--ui)',
  fontSize: 14,
  headerFontSize: 13,
  spacing: 4,
  cellHorizontalPadding: 8,
  borderColor: 'var(--rule)',
  headerRowBorder: '1px solid var(--ink)',
  rowBorder: '1px solid var(--rule)',
  columnBorder: false,
  wrapperBorder: false,
  wrapperBorderRadius: 0,
  borderRadius: 3,
  oddRowBackgroundColor: 'var(--sheet)',
  rowHoverColor: 'var(--hover)',
  rangeSelectionBorderColor: 'var(--green)',
});

// What a column gets when it fits its content, in pixels: no more than this, and no less.
const [narrowest, widest] = [70, 420];

export interface GridProps {
  readonly table: Table;
  /** The columns and their widths, in their order. */
  readonly columns: ListColumns;
  readonly onColumns: (columns: ListColumns) => void;
  readonly selection: Selection;
  /** How many records there are, as far as that is known when the list opens: the grid's length until its end was seen. */
  readonly known: number;
  readonly onSort: (sort: string | undefined, direction: 'up' | 'down') => void;
}

interface Refused {
  readonly record: number;
  readonly field: Field;
  readonly typed: Typed;
  readonly message: string;
}

/** A grid of any length: rows come by the page, cells are edited in place and saved as one leaves them. */
export default function Grid({ table, columns: chosen, onColumns, selection, known, onSort }: GridProps) {
  const app = useApp();
  const client = useQueryClient();
  const api = useRef<GridApi<RecordAnswer> | null>(null);
  const [refused, setRefused] = useState<Refused | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const source = useMemo<IDatasource>(() => {
    const read = pageSource((query) => call(contract.readPage, { params: { app: app.id, table: table.id }, query: { ...selection, ...query } }));
    return {
      getRows: (asked) => {
        read(asked.startRow, asked.endRow).then(
          ({ rows, last }) => {
            setFailure(null);
            asked.successCallback(rows, last);
          },
          (error: unknown) => {
            setFailure(messageOf(error));
            asked.failCallback();
          },
        );
      },
    };
    // The grid is made anew for another selection, and its design is of the app's version.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [app.id, table.id]);

  const rights = useRights(table.id);
  const fields = chosen.flatMap((one) => table.fields.filter((field) => field.id === one.field));
  const columns = useMemo<ColDef<RecordAnswer>[]>(
    () => [
      {
        colId: 'no',
        headerName: hasOwnNumber(table) ? 'Open' : 'No.',
        headerClass: hasOwnNumber(table) ? 'unseen' : '',
        width: hasOwnNumber(table) ? 36 : 84,
        pinned: 'left',
        sortable: false,
        editable: false,
        suppressMovable: true,
        cellRenderer: ({ data }: CustomCellRendererProps<RecordAnswer>) =>
          data === undefined ? (
            ''
          ) : (
            <OpenRecord table={table} record={data} fields={fields} to={withSelection(`/desk/${app.id}/${table.id}/${data.id}`, selection)} />
          ),
      },
      ...fields.map((field): ColDef<RecordAnswer> => ({
        ...columnOf(app, field, selection, rights.change && !rights.locked.includes(field.id)),
        ...widthOf(chosen, field),
      })),
    ],
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [table, app.version],
  );

  /** Columns without a width of their own fit what is in them; what is left of the list's width is shared out. */
  const fit = (grid: GridApi<RecordAnswer>): void => {
    const free = chosen.filter((one) => one.width === null).map((one) => one.field);
    // It waits for the first rows to be drawn, and the list might have been left by then.
    if (free.length === 0 || grid.isDestroyed()) return;
    grid.autoSizeColumns(free);
    const all = grid.getAllDisplayedColumns();
    const total = all.reduce((sum, column) => sum + column.getActualWidth(), 0);
    const space = (frame.current?.clientWidth ?? 0) - 18 - total;
    if (space > 0)
      grid.setColumnWidths(
        all
          .filter((column) => free.includes(column.getColId()))
          .map((column) => ({ key: column, newWidth: column.getActualWidth() + Math.floor(space / free.length) })),
      );
  };
  const frame = useRef<HTMLDivElement>(null);
  const hasFit = useRef(false);
  /** What the person did to the columns themselves; what the grid does by itself is not kept. */
  const tell = (grid: GridApi<RecordAnswer>, resized: string | null): void => {
    const kept = new Map(chosen.map((one) => [one.field, one.width]));
    const now = grid.getAllDisplayedColumns().flatMap((column) => {
      const field = column.getColId();
      return field === 'no' ? [] : [{ field, width: field === resized ? Math.round(column.getActualWidth()) : (kept.get(field) ?? null) }];
    });
    onColumns(now);
  };

  const save = async ({ data, column, newValue, oldValue }: CellEditRequestEvent<RecordAnswer>): Promise<void> => {
    const field = fields.find((one) => one.id === column.getColId());
    if (field === undefined || newValue === oldValue) return;
    const typed = newValue as Typed;
    const parsed = valueOf(field, typed);
    if (!parsed.ok) return setRefused({ record: data.id, field, typed, message: parsed.problem });
    try {
      const { records } = await call(contract.saveRecords, {
        params: { app: app.id },
        body: {
          key: crypto.randomUUID(),
          writes: [{ kind: 'change', table: table.id, id: data.id, rev: data.rev, values: { [field.id]: written(parsed.value) } }],
        },
      });
      setRefused(null);
      update({ ...data, rev: records[0]?.rev ?? data.rev, values: { ...data.values, [field.id]: parsed.value } });
      void client.invalidateQueries({ queryKey: keys.record(app.id, table.id, data.id) });
    } catch (error) {
      if (error instanceof ApiRefusal && error.answer.code === 'conflict') {
        const current = error.answer.details[0]?.current;
        if (current !== null && current !== undefined) update(current);
        const theirs =
          current === null || current === undefined
            ? 'It has been removed.'
            : `It now says “${printValue(field, current.values[field.id] ?? null, locale()) || 'nothing'}”.`;
        return setRefused({ record: data.id, field, typed, message: `${error.message} ${theirs} Enter yours again to put it there.` });
      }
      setRefused({ record: data.id, field, typed, message: messageOf(error) });
    }
  };
  useEffect(
    () =>
      onTouched((tables) => {
        const grid = api.current;
        // A cell that is worked on is not taken away; the next event, or the next visit, brings the others' values.
        if (grid !== null && tables.has(table.id) && grid.getEditingCells().length === 0) grid.refreshInfiniteCache();
      }),
    [table.id],
  );
  const update = (record: RecordAnswer): void => {
    api.current?.forEachNode((node) => {
      if (node.data?.id === record.id) node.setData(record);
    });
  };
  const again = (): void => {
    const grid = api.current;
    if (grid === null || refused === null) return;
    grid.forEachNode((node) => {
      if (node.data?.id === refused.record && node.rowIndex !== null) grid.startEditingCell({ rowIndex: node.rowIndex, colKey: refused.field.id });
    });
  };

  return (
    <div className="grid" ref={frame}>
      {refused !== null && (
        <Note
          kind="bad"
          action={
            <>
              <button type="button" className="btn bare" onClick={again}>
                Enter it again
              </button>
              <button type="button" className="btn bare" onClick={() => setRefused(null)}>
                Leave it as it was
              </button>
            </>
          }
        >
          {refused.field.name} of record {refused.record} was not saved: {refused.message}
        </Note>
      )}
      {failure !== null && (
        <Note
          kind="bad"
          action={
            <button type="button" className="btn bare" onClick={() => api.current?.refreshInfiniteCache()}>
              Try again
            </button>
          }
        >
          {failure}
        </Note>
      )}
      <AgGridReact<RecordAnswer>
        theme={look}
        styleNonce={styleNonce}
        columnDefs={columns}
        rowModelType="infinite"
        datasource={source}
        cacheBlockSize={100}
        maxBlocksInCache={30}
        maxConcurrentDatasourceRequests={1}
        infiniteInitialRowCount={Math.max(known, 1)}
        readOnlyEdit
        onCellEditRequest={(event) => void save(event)}
        onGridReady={(event) => {
          api.current = event.api;
        }}
        onModelUpdated={(event) => {
          if (hasFit.current || event.api.getDisplayedRowAtIndex(0)?.data === undefined) return;
          hasFit.current = true;
          // Once the first rows have been drawn there is something to fit.
          requestAnimationFrame(() => fit(event.api));
        }}
        onColumnResized={(event) => event.finished && event.source === 'uiColumnResized' && tell(event.api, event.column?.getColId() ?? null)}
        onColumnMoved={(event) => event.finished && event.source === 'uiColumnMoved' && tell(event.api, null)}
        onCellKeyDown={toEitherEnd}
        onSortChanged={(event) => {
          const sorted = event.api.getColumnState().find((column) => column.sort !== null && column.sort !== undefined);
          onSort(sorted?.colId, sorted?.sort === 'desc' ? 'down' : 'up');
        }}
        suppressDragLeaveHidesColumns
        stopEditingWhenCellsLoseFocus
        ensureDomOrder
        getRowId={({ data }) => String(data.id)}
      />
    </div>
  );
}

/** Ctrl+Home and Ctrl+End go to the first and the last row: the grid leaves them to the browser, whose scrolling stops where rows arrive. */
function toEitherEnd({ api, event }: CellKeyDownEvent<RecordAnswer> | FullWidthCellKeyDownEvent<RecordAnswer>): void {
  if (!(event instanceof KeyboardEvent) || !(event.ctrlKey || event.metaKey) || (event.key !== 'Home' && event.key !== 'End')) return;
  event.preventDefault();
  const row = event.key === 'Home' ? 0 : api.getDisplayedRowCount() - 1;
  api.ensureIndexVisible(row);
  const column = api.getFocusedCell()?.column;
  if (column !== undefined) api.setFocusedCell(row, column);
}

const widthOf = (chosen: ListColumns, field: Field): Partial<ColDef<RecordAnswer>> => {
  const width = chosen.find((one) => one.field === field.id)?.width ?? null;
  return width === null ? { minWidth: narrowest, maxWidth: widest * 3 } : { width };
};

function columnOf(app: AppInHand, field: Field, selection: Selection, isOpen: boolean): ColDef<RecordAnswer> {
  const right = isAlignedRight(app, field);
  const { cellEditor } = viewOf(field);
  const value = (data: RecordAnswer | undefined): Value => data?.values[field.id] ?? null;
  return {
    colId: field.id,
    headerName: field.name,
    width: fieldKinds[field.kind].traits.listWidth,
    sortable: true,
    initialSort: selection.sort === field.id ? (selection.direction === 'down' ? 'desc' : 'asc') : null,
    // Sorting is the server's: the grid only shows the arrow.
    comparator: () => 0,
    // A text that is shown in part is changed where the record is opened.
    editable: ({ data }) => isOpen && cellEditor !== null && data?.cut?.includes(field.id) !== true,
    headerClass: right ? 'right' : '',
    cellClass: right ? 'right' : '',
    valueGetter: ({ data }) => (data === undefined ? null : typedOf(field, value(data))),
    valueFormatter: ({ data }) => (data === undefined ? '' : printValue(field, value(data), locale())),
    cellRenderer:
      // The grid formats texts itself; what a form edits as something else is printed.
      typeof typedOf(field, null) === 'string' ? undefined : ({ data }: CustomCellRendererProps<RecordAnswer>) => printValue(field, value(data), locale()),
    ...cellEditor?.(field, app.id),
  };
}
