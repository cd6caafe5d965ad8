import { isSummedUp, tableOf, type QueryColumn, type SavedQuery } from '@bibliona/core';
import { PlusIcon } from '@phosphor-icons/react';
import { useApp } from '../../state/app.js';
import { arrangementWords } from '../parts/arrangements.js';
import { columnType, conditionWords, directionWords, groupsOf, valuesOf, type Spot } from './query-draft.js';
import { locale } from '../../state/locale.js';

/** The query as the sentence that it is; each part of it is chosen by a press. */
export function QuerySentence(props: {
  readonly query: SavedQuery;
  readonly spot: Spot;
  readonly onSpot: (spot: Spot) => void;
  /** Columns that cannot be read, and '' for the condition. */
  readonly wrong: ReadonlySet<string>;
}) {
  const { query, spot, onSpot, wrong } = props;
  const { design } = useApp();
  const word = (look: string, to: Spot, children: React.ReactNode, isWrong = false) => {
    const isOn = spot.kind === to.kind && (to.kind !== 'column' || (spot.kind === 'column' && spot.id === to.id));
    return (
      <button type="button" className={`w ${look} ${isOn ? 'on' : ''} ${isWrong ? 'bad' : ''}`} aria-pressed={isOn} onClick={() => onSpot(to)}>
        {children}
      </button>
    );
  };
  const column = (queryColumn: QueryColumn, i: number) => (
    <span key={queryColumn.id}>
      {i > 0 && ', '}
      {word(
        /^[^().]*(\.[^().]*)*$/u.test(queryColumn.expression) && queryColumn.summary === null ? 'fie' : 'calc',
        { kind: 'column', id: queryColumn.id },
        queryColumn.name,
        wrong.has(queryColumn.id),
      )}
    </span>
  );
  const table = word('tab', { kind: 'query' }, tableOf(design, query.table).name);
  const groups = groupsOf(query);
  const values = valuesOf(query);
  return (
    <p className="sentence">
      {!isSummedUp(query) ? (
        <>One row per record of {table} </>
      ) : groups.length === 0 ? (
        <>One row for all {table} </>
      ) : (
        <>
          One row per {groups.map(column)} from {table}{' '}
        </>
      )}
      {query.condition.trim() === '' ? (
        <button type="button" className="w plus" aria-label="Add a condition" onClick={() => onSpot({ kind: 'condition' })}>
          <PlusIcon size={16} />
        </button>
      ) : (
        <>where {word('cond', { kind: 'condition' }, conditionWords(query, design), wrong.has(''))}</>
      )}
      {', with '}
      {values.map(column)}
      <button type="button" className="w plus" aria-label="Add a column" onClick={() => onSpot({ kind: 'new column' })}>
        <PlusIcon size={16} />
      </button>
      {', '}
      {word(
        'ord',
        { kind: 'order' },
        query.order.length === 0
          ? 'in no order of its own'
          : query.order
              .map(({ column: id, direction }) => {
                const by = query.columns.find((each) => each.id === id);
                return by === undefined ? '' : `${by.name} ${directionWords(columnType(query, by, design), direction)}`;
              })
              .join(', then '),
      )}
      {query.limit !== null && <>, only the first {locale().count(query.limit)}</>}
      {', shown '}
      {word(
        '',
        { kind: 'arrangement' },
        arrangementWords(query.arrangement ?? { kind: 'grid' }, (id) => query.columns.find((each) => each.id === id)?.name),
      )}
      .
    </p>
  );
}
