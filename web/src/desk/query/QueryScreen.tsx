import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { PencilRulerIcon } from '@phosphor-icons/react';
import {
  arrangementOf,
  canGroupBy,
  contract,
  exportFormatNames,
  exportFormats,
  mostRowsRead,
  type ResultColumn,
  type RowsPicked,
  type SavedQuery,
} from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp, useRights } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { Empty } from '../../ui/Empty.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { Note } from '../../ui/Note.js';
import { PartSeenNote } from '../../ui/PartSeenNote.js';
import { ExportMenu, type FileChoice } from '../../ui/ExportMenu.js';
import { Waiting } from '../../ui/Waiting.js';
import { Favourite } from '../Favourite.js';
import { FilterButton, useFiltersShown } from '../list/FilterMargin.js';
import { KeepList } from '../KeepList.js';
import { GroupChoice } from '../list/GroupChoice.js';
import { SearchBox } from '../list/SearchBox.js';
import { SumLines } from '../list/SumLines.js';
import { NotHere } from '../NotHere.js';
import { ownListAt } from '../own-list.js';
import { askedRows, usePicked } from './picked.js';
import { PickedBy, QueryFilters, useQueryValues } from './QueryFilters.js';
import { ResultArranged } from './ResultArranged.js';
import { ResultGrid } from './ResultGrid.js';
import { ResultGroups } from './ResultGroups.js';
import { ResultLines } from './ResultLines.js';
import { wordsIn } from './words.js';

/** Of all rows, by the id of their column. */
type Sums = Readonly<Record<string, string | null>>;

/** The rows of a saved query, as far as this person can see what they are made of: searched, filtered and sorted on the spot. */
export default function QueryScreen() {
  const app = useApp();
  const { query: id } = useParams();
  const query = app.design.queries.find((each) => each.id === id);
  if (query === undefined) return <NotHere what="query" />;
  return <QueryRows key={query.id} query={query} />;
}

function QueryRows({ query }: { readonly query: SavedQuery }) {
  const app = useApp();
  const isNarrow = useIsNarrow();
  const picking = usePicked();
  const { picked, change } = picking;
  const { sort: _, direction: __, ...counted } = askedRows(picked);
  const count = useQuery({
    queryKey: [...keys.answer(app.id, query.id), 'count', counted],
    queryFn: () => call(contract.readQuery, { params: { app: app.id, query: query.id }, query: { ...counted, limit: 1 } }),
    placeholderData: keepPreviousData,
  });
  const values = useQueryValues(query, picking);
  const rights = useRights(query.table);
  const filters = useFiltersShown(query.id);
  const columns = count.data?.columns ?? [];
  const found = count.data?.found ?? null;
  const sums = count.data?.sums ?? noSums;
  const groupable = columns.filter((column) => canGroupBy(column.type));
  const by = picked.by.filter((id) => groupable.some((column) => column.id === id));
  const arrangement = arrangementOf(query, columns);
  const isGrid = arrangement.kind === 'grid';
  const isPicked = picked.search !== '' || picked.only.length > 0;
  const isEmpty = found === 0 && !isPicked;
  const looked = { kind: 'query', query: query.id, picked } as const;
  const own = ownListAt(app, looked);
  const hasFilters = values.data !== undefined && values.data.columns.length > 0;
  return (
    <div className="list-screen">
      <header className="list-head">
        <h1>{query.name}</h1>
        <span className="q" role="status">
          {found !== null && countWords(found, isPicked)}
          {count.data?.seen === 'part' && ' · '}
          <PartSeenNote seen={count.data?.seen} />
        </span>
        <div className="end">
          {!isEmpty && <SearchBox text={picked.search} name={query.name} onText={(search) => change({ search })} />}
          {!isEmpty && hasFilters && <FilterButton isShown={filters.isShown} isActive={picked.only.length > 0} onToggle={filters.toggle} />}
          {!isEmpty && <KeepList of={looked} />}
          {!isEmpty && isGrid && (
            <GroupChoice
              name={query.name}
              by={by}
              offered={groupable}
              onChange={(chosen) => change({ by: [...chosen] })}
              onReset={by.length === 0 ? undefined : () => change({ by: [] })}
            />
          )}
          {!isEmpty && rights.export && <ExportMenu files={() => filesOf(app.id, query, picked, found)} />}
          <Favourite link={own === undefined ? { kind: 'page', page: { kind: 'query', query: query.id } } : { kind: 'own_list', id: own.id }} />
          {app.role === 'builder' && !isNarrow && (
            <Tooltip title="Design this query">
              <IconButton component={Link} to={`/workshop/${app.id}/queries/${query.id}`} aria-label="Design this query">
                <PencilRulerIcon size={18} />
              </IconButton>
            </Tooltip>
          )}
        </div>
      </header>
      {query.description !== '' && <p className="q query-says">{query.description}</p>}
      {count.isError && <Note kind="bad">{messageOf(count.error)}</Note>}
      {isEmpty ? (
        <Empty title="No records match this query." />
      ) : (
        <>
          <PickedBy query={query} columns={columns} {...picking} />
          <div className={hasFilters && filters.isShown ? 'list-body with-filters' : 'list-body'}>
            {hasFilters && filters.isShown && <QueryFilters query={query} columns={columns} {...picking} />}
            <div className="list-rows">
              {found === 0 ? (
                <Empty
                  title={picked.search === '' ? 'No row fits these filters.' : 'No row contains these words.'}
                  action={
                    <Button variant="outlined" onClick={() => change({ search: '', only: [] })}>
                      Show all rows
                    </Button>
                  }
                >
                  {picked.search === '' ? 'Choose other values to see rows again.' : 'Search looks at the words and numbers in the columns.'}
                </Empty>
              ) : count.data === undefined && query.arrangement !== undefined ? (
                <Waiting />
              ) : !isGrid ? (
                <ResultArranged query={query} columns={columns} arrangement={arrangement} {...picking} />
              ) : by.length > 0 ? (
                <ResultGroups query={query} columns={columns} picked={{ ...picked, by }} />
              ) : isNarrow ? (
                <>
                  <ResultLines query={query} picked={picked} />
                  <SumLines label="Sums of all rows" sums={columns.flatMap((column) => sumOf(column, sums))} />
                </>
              ) : (
                <ResultGrid query={query} found={found} sums={sums} {...picking} />
              )}
            </div>
          </div>
        </>
      )}
    </div>
  );
}

const noSums: Sums = {};

function sumOf(column: ResultColumn, sums: Sums): readonly { readonly id: string; readonly name: string; readonly sum: string }[] {
  const sum = sums[column.id];
  return sum === undefined ? [] : [{ id: column.id, name: column.name, sum: wordsIn(column, sum) }];
}

/** The files that the rows can be saved as, as they are picked and sorted. */
function filesOf(app: string, query: SavedQuery, picked: RowsPicked, found: number | null): readonly FileChoice[] {
  const about = { params: { app, query: query.id }, ...(found === null ? {} : { rows: found }) };
  const asked = { ...askedRows(picked) };
  return [
    ...exportFormatNames.map((format) => ({
      word: exportFormats[format].word,
      file: { ...about, route: 'exportQuery' as const, query: { ...asked, format }, name: `${query.name}.${format}` },
    })),
    { word: 'PDF, for printing', file: { ...about, route: 'printQuery', query: asked, name: `${query.name}.pdf` } },
  ];
}

function countWords(found: number, isPicked: boolean): string {
  const words = isPicked ? `${locale().count(found)} found` : `${locale().count(found)} ${found === 1 ? 'row' : 'rows'}`;
  return found > mostRowsRead ? `${words}, the first ${locale().count(mostRowsRead)} listed` : words;
}
