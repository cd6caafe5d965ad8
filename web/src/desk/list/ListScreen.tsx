import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { ClockCounterClockwiseIcon, DownloadSimpleIcon, PencilRulerIcon, PlusIcon } from '@phosphor-icons/react';
import { canNarrow, contract, type Selection, type Table } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { Link, useLocation, useNavigate, useParams } from 'react-router';
import { call } from '../../state/api.js';
import { useApp, useKindsOf, useRights } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { keysOf, useShortcut } from '../../state/shortcuts.js';
import { Empty } from '../../ui/Empty.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { NotRead } from '../../ui/grid/NotRead.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { Favourite } from '../Favourite.js';
import { NotHere } from '../NotHere.js';
import { ColumnChoice, useColumns } from './ColumnChoice.js';
import { Grid, type GridProps } from './Grid.js';
import { NarrowList } from './NarrowList.js';
import { useRows } from './use-rows.js';
import { asked, useList, useSelection, withSelection } from './selection.js';
import { arrangements, GroupedRows } from './arrangements.js';
import { FilterButton, useFiltersShown } from './FilterMargin.js';
import { GroupChoice } from './GroupChoice.js';
import { JustDone, type Done } from './JustDone.js';
import { ownListAt } from '../own-list.js';
import { KeepList } from '../KeepList.js';
import { Narrowed, QuickFilters } from './QuickFilters.js';
import { SearchBox } from './SearchBox.js';
import { locale } from '../../state/locale.js';

const ListFiles = lazy(() => import('./ListFiles.js'));
const ListSums = lazy(() => import('./ListSums.js'));

/** The list of a table: found, sorted and edited in place; its state is in the address. */
export default function ListScreen() {
  const app = useApp();
  const { table: id } = useParams();
  const table = app.design.tables.find((each) => each.id === id);
  if (table === undefined || app.rights[table.id]?.see !== true) return <NotHere what="list" />;
  return <TableList key={table.id} table={table} />;
}

function TableList({ table }: { readonly table: Table }) {
  const app = useApp();
  useKindsOf([table]);
  const isNarrow = useIsNarrow();
  const [done, setDone] = useState<Done | null>(null);
  const { selection, change } = useSelection(table);
  const list = useList(table.id, selection);
  const count = useCount(app.id, table.id, selection);
  const isNarrowed = selection.search !== '' || selection.narrowed !== undefined;
  const isEmpty = count.data?.count === 0 && !isNarrowed;
  const rights = useRights(table.id);
  const { columns, isOwn, problem, keep } = useColumns(table, list);
  const filters = useFiltersShown(list.id);
  const hasFilters = list.quickFilters.length > 0;
  const Arranged = arrangements[list.arrangement.kind];
  const by = selection.by ?? list.groupBy;
  const isGrid = Arranged === null && by.length === 0;
  const choosing = { count: count.data?.count ?? 0, onDone: setDone };
  const looked = { kind: 'table', table: table.id, selection } as const;
  const own = ownListAt(app, looked);
  const navigate = useNavigate();
  const toNew = withSelection(`/desk/${app.id}/${table.id}/new`, selection);
  useShortcut('add', rights.add ? () => void navigate(toNew) : null);
  const add = rights.add && (
    <Tooltip title={keysOf('add')} describeChild>
      <Button variant="contained" startIcon={<PlusIcon />} component={Link} to={toNew}>
        New record
      </Button>
    </Tooltip>
  );
  return (
    <div className="list-screen">
      <header className="list-head">
        <h1>{list.name}</h1>
        <span className="q" role="status">
          {countWords(count.data, isNarrowed)}
        </span>
        <div className="end">
          {!isEmpty && <SearchBox text={selection.search} name={table.name} onText={(search) => change({ search })} />}
          {!isEmpty && hasFilters && <FilterButton isShown={filters.isShown} isActive={selection.narrowed !== undefined} onToggle={filters.toggle} />}
          {!isEmpty && <KeepList of={looked} />}
          {!isEmpty && Arranged === null && (
            <GroupChoice
              name={table.name}
              by={by}
              offered={table.fields.filter((field) => canNarrow(field) && !rights.hidden.includes(field.id))}
              onChange={(chosen) => change({ by: [...chosen] })}
              onReset={selection.by === undefined ? undefined : () => change({ by: undefined })}
            />
          )}
          {!isEmpty && !isNarrow && isGrid && <ColumnChoice table={table} columns={columns} isOwn={isOwn} problem={problem} onKeep={keep} />}
          {!isEmpty && rights.export && (
            <Suspense
              fallback={
                <Button variant="outlined" startIcon={<DownloadSimpleIcon />} disabled>
                  Export
                </Button>
              }
            >
              <ListFiles table={table} name={list.name} selection={selection} columns={columns.map((column) => column.field)} count={count.data?.count} />
            </Suspense>
          )}
          <Favourite link={own === undefined ? { kind: 'page', page: { kind: 'list', list: list.id } } : { kind: 'own_list', id: own.id }} />
          {app.role === 'builder' && !isNarrow && (
            <Tooltip title="Design this list">
              <IconButton component={Link} to={`/workshop/${app.id}/screens/${list.id}`} aria-label="Design this list">
                <PencilRulerIcon size={18} />
              </IconButton>
            </Tooltip>
          )}
          {rights.remove && (
            <Tooltip title={`Removed from ${table.name}`}>
              <IconButton component={Link} to={`/desk/${app.id}/${table.id}/removed`} aria-label={`Removed from ${table.name}`}>
                <ClockCounterClockwiseIcon size={18} />
              </IconButton>
            </Tooltip>
          )}
          {!isEmpty && add}
        </div>
      </header>
      {done !== null && <JustDone key={done.save} done={done} onClose={() => setDone(null)} />}
      <JustRemoved />
      <JustAdded table={table} selection={selection} />
      {isEmpty ? (
        <Empty title={`No records in ${list.name} yet.`} action={add}>
          Records you add or import appear here.
        </Empty>
      ) : (
        <>
          <Narrowed table={table} selection={selection} onChange={change} />
          <div className={hasFilters && filters.isShown ? 'list-body with-filters' : 'list-body'}>
            {hasFilters && filters.isShown && <QuickFilters table={table} selection={selection} onChange={change} />}
            <div className="list-rows">
              {count.data?.count === 0 ? (
                <NothingFound table={table} selection={selection} onChange={change} />
              ) : Arranged !== null ? (
                <Suspense fallback={<Waiting />}>
                  <Arranged table={table} list={list} selection={selection} choosing={choosing} />
                </Suspense>
              ) : by.length > 0 ? (
                <Suspense fallback={<Waiting />}>
                  <GroupedRows table={table} list={list} selection={selection} choosing={choosing} />
                </Suspense>
              ) : isNarrow ? (
                <NarrowList table={table} list={list} selection={selection} choosing={choosing} />
              ) : (
                <WideList
                  table={table}
                  columns={columns}
                  onColumns={keep}
                  selection={selection}
                  known={count.data?.count ?? 0}
                  frozen={list.frozen ?? 0}
                  name={list.name}
                  hasSums={list.sums.length > 0}
                  onDone={setDone}
                  onSort={(sort, direction) => change({ sort, direction })}
                />
              )}
              {isGrid && list.sums.length > 0 && count.data?.count !== 0 && (
                <Suspense>
                  <ListSums table={table} selection={selection} except={isNarrow ? [] : columns.map((column) => column.field)} />
                </Suspense>
              )}
            </div>
          </div>
        </>
      )}
    </div>
  );
}

/** Nothing is left of a list that was searched or narrowed. */
function NothingFound(props: { readonly table: Table; readonly selection: Selection; readonly onChange: ReturnType<typeof useSelection>['change'] }) {
  const { table, selection, onChange } = props;
  return (
    <Empty
      title={selection.search === '' ? 'No record fits these filters.' : 'No record contains these words.'}
      action={
        <Button variant="outlined" onClick={() => onChange({ search: '', narrowed: undefined })}>
          Show all {table.name}
        </Button>
      }
    >
      {selection.search === '' ? 'Choose other values to see records again.' : 'Search looks at the text of a record and of its linked records.'}
    </Empty>
  );
}

/** The records on a screen that has the space for columns. */
function WideList(props: Omit<GridProps, 'rows'>) {
  const { rows, failure, again } = useRows(props.table, props.selection);
  return (
    <>
      <NotRead failure={failure} again={again} />
      {rows === null ? failure === null && <Waiting /> : <Grid {...props} rows={rows} />}
    </>
  );
}

/** Says that a record was added just now, where its form leads back to the list. */
function JustAdded({ table, selection }: { readonly table: Table; readonly selection: Selection }) {
  const app = useApp();
  const location = useLocation();
  const { added } = (location.state ?? {}) as { readonly added?: { readonly id: number; readonly thanks?: string } };
  if (added === undefined) return null;
  return (
    <Note kind="good">
      {added.thanks !== undefined && added.thanks !== '' && `${added.thanks} `}
      The record is saved as{' '}
      <Link className="lk" to={withSelection(`/desk/${app.id}/${table.id}/${added.id}`, selection)}>
        No. {added.id}
      </Link>
      .
    </Note>
  );
}

/** Says which record was removed from its form just now, and brings it back. */
function JustRemoved() {
  const navigate = useNavigate();
  const { pathname, search, ...here } = useLocation();
  const { removed } = (here.state ?? {}) as { readonly removed?: { readonly caption: string; readonly save: string } };
  if (removed === undefined) return null;
  return (
    <JustDone
      done={{ save: removed.save, message: `${removed.caption} was removed.` }}
      restores={removed.caption}
      onClose={() => void navigate(`${pathname}${search}`, { replace: true, state: null })}
    />
  );
}

function countWords(count: { readonly count: number; readonly atLeast: boolean } | undefined, isNarrowed: boolean): string {
  if (count === undefined) return '';
  const number = `${locale().count(count.count)}${count.atLeast ? '+' : ''}`;
  return isNarrowed ? `${number} found` : `${number} ${count.count === 1 ? 'record' : 'records'}`;
}

/** First the count as far as it is quick, then the exact one. */
function useCount(app: string, table: string, { sort: _, by: __, ...selection }: Selection) {
  const ask = (exact: 'yes' | 'no') => ({
    queryKey: [...keys.table(app, table), 'count', selection, exact],
    queryFn: () => call(contract.countPage, { params: { app, table }, query: { ...asked(selection), exact } }),
  });
  const quick = useQuery(ask('no'));
  const exact = useQuery({ ...ask('yes'), enabled: quick.data?.atLeast === true });
  return exact.data === undefined ? quick : exact;
}
