import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { DndContext, DragOverlay, PointerSensor, useDraggable, useDroppable, useSensor, useSensors } from '@dnd-kit/core';
import { ArrowRightIcon, PlusIcon } from '@phosphor-icons/react';
import { routeOf, startOf, written, type Field, type RecordAnswer } from '@bibliona/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { ToneMark } from '../../fields/ChoiceMark.js';
import { messageOf } from '../../state/api.js';
import { useApp, useRights } from '../../state/app.js';
import { locale } from '../../state/locale.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { boardColumns, isIn, landing, type BoardColumn } from './board.js';
import { canPut } from './days.js';
import { ChosenBar, useMayChoose } from './ChosenBar.js';
import { calledIn, RecordCard } from './RecordCard.js';
import { RowMark } from './RowMark.js';
import { useGroups } from './use-groups.js';
import { withSelection } from './selection.js';
import { shownIn } from './shown.js';
import { namingFields, narrowedTo, valueWords } from './values.js';
import { usePutting } from './use-putting.js';
import { useMarks } from './use-marks.js';
import { useMarkable, useRecords } from './use-records.js';

const pageOfSlips = 30;
// Each column is read by itself, and nobody looks through more of them.
const mostColumns = 40;

interface Mover {
  readonly columns: readonly BoardColumn[];
  /** Null: this person can't move records here. */
  readonly put: ((record: RecordAnswer, to: BoardColumn) => void) | null;
}

/** Records in a column for each value of a field; dragging a record into another column changes it there, or moves it along its route. */
export function Board(props: ArrangedProps) {
  const { table, list, selection, choosing } = props;
  const { arrangement } = list;
  const app = useApp();
  const rights = useRights(table.id);
  const by = arrangement.kind === 'board' ? arrangement.by : '';
  const field = table.fields.find((each) => each.id === by);
  const groups = useGroups(table, selection, [by]);
  const mayChoose = useMayChoose(table) && choosing !== undefined;
  const marks = useMarks(useMarkable(table, selection, pageOfSlips));
  const [held, setHeld] = useState<RecordAnswer | null>(null);
  const { send, notes, refuse } = usePutting(table);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  if (groups.error !== null) return <Note kind="bad">{messageOf(groups.error)}</Note>;
  if (groups.data === undefined || field === undefined) return <Waiting />;
  const route = routeOf(app.design, table.id);
  const isRoute = route?.field === field.id;
  const mayPut = isRoute ? app.moves : canPut(field, rights);
  const all = boardColumns(field, groups.data.levels[1]?.groups ?? [], groups.data.sums.length);
  const columns = all.slice(0, mostColumns);
  const put = (record: RecordAnswer, to: BoardColumn): void => {
    if (isIn(to, record, field.id)) return;
    const target = landing(table.id, field, route, record, to);
    if (!target.ok) return refuse(target.why);
    // A move is undone by another move.
    void send(record, target.write, isRoute ? null : `is in ${valueWords(app, field, to.value)} now`);
  };
  const mover: Mover = { columns, put: mayPut ? put : null };
  return (
    <div className="board-frame">
      {choosing !== undefined && <ChosenBar {...{ table, selection, marks, ...choosing }} name={list.name} columns={list.columns} />}
      {notes}
      {all.length > mostColumns && <p className="q sm board-says">Only the first {mostColumns} columns are shown: choose a filter to see the others.</p>}
      <DndContext
        sensors={sensors}
        onDragStart={({ active }) => setHeld((active.data.current as { record: RecordAnswer }).record)}
        onDragCancel={() => setHeld(null)}
        onDragEnd={({ over }) => {
          const to = columns.find((column) => over?.id === JSON.stringify(written(column.value)));
          if (held !== null && to !== undefined && mover.put !== null) mover.put(held, to);
          setHeld(null);
        }}
      >
        <div className="board">
          {columns.map((column) => {
            const target = held === null || isIn(column, held, field.id) ? null : landing(table.id, field, route, held, column);
            return (
              <Column
                key={JSON.stringify(written(column.value))}
                {...props}
                field={field}
                column={column}
                sums={groups.data.sums}
                mover={mover}
                marks={mayChoose ? marks : null}
              >
                {target !== null && (
                  <p className={target.ok ? 'landing' : 'landing no'}>
                    {!target.ok
                      ? target.why
                      : isRoute
                        ? route.moves.find((move) => target.write.kind === 'move' && move.id === target.write.move)?.name
                        : 'Move it here'}
                  </p>
                )}
              </Column>
            );
          })}
        </div>
        <DragOverlay dropAnimation={null}>
          {held !== null && <RecordCard table={table} list={list} record={held} selection={selection} without={[by]} most={3} />}
        </DragOverlay>
      </DndContext>
    </div>
  );
}

interface ColumnProps extends ArrangedProps {
  readonly field: Field;
  readonly column: BoardColumn;
  readonly sums: readonly string[];
  readonly mover: Mover;
  /** Null: records can't be chosen here. */
  readonly marks: ReturnType<typeof useMarks> | null;
  readonly children: React.ReactNode;
}

function Column({ table, list, selection, field, column, sums, mover, marks, children }: ColumnProps) {
  const app = useApp();
  const route = routeOf(app.design, table.id);
  const within = { ...selection, narrowed: narrowedTo(selection, field.id, [written(column.value)]) };
  const { records, error, hasNextPage, isFetchingNextPage, fetchNextPage } = useRecords(table, within, pageOfSlips);
  const { setNodeRef, isOver } = useDroppable({ id: JSON.stringify(written(column.value)) });
  // A record on a route begins at its first status.
  const mayAdd = useRights(table.id).add && column.value !== null && (route?.field !== field.id || startOf(route) === column.held);
  const choice = field.kind === 'choice' ? field.choices.find((each) => each.id === column.held) : undefined;
  const name = valueWords(app, field, column.value);
  const summed = sums.flatMap((id, i) => {
    const of = table.fields.find((each) => each.id === id);
    const sum = column.sums[i];
    return of === undefined || sum == null ? [] : [`${of.name} ${shownIn(of, { id: 0, rev: 0, values: { [id]: sum } })}`];
  });
  return (
    <section ref={setNodeRef} className={isOver ? 'board-column over' : 'board-column'} aria-label={name}>
      <h2>
        <ToneMark tone={choice?.tone} />
        <span className="el">{name}</span>
        <span className="k">{locale().count(column.count)}</span>
      </h2>
      {summed.length > 0 && <p className="q sm">{summed.join(' · ')}</p>}
      {children}
      {error !== null && <Note kind="bad">{messageOf(error)}</Note>}
      <ul>
        {records.map((record) => (
          <Slip key={record.id} {...{ table, list, record, selection, field, column, mover, marks }} />
        ))}
      </ul>
      {mayAdd && (
        <Button
          className="board-add"
          startIcon={<PlusIcon />}
          component={Link}
          to={withSelection(`/desk/${app.id}/${table.id}/new`, selection)}
          state={{ given: [{ field: field.id, values: [written(column.value)] }] }}
          aria-label={`New record in ${name}`}
        >
          New
        </Button>
      )}
      {hasNextPage && (
        <Button loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
          More records
        </Button>
      )}
    </section>
  );
}

function Slip(props: ArrangedProps & Pick<ColumnProps, 'field' | 'column' | 'mover' | 'marks'> & { readonly record: RecordAnswer }) {
  const { table, list, record, selection, field, column, mover, marks } = props;
  const app = useApp();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { setNodeRef, listeners, isDragging } = useDraggable({ id: record.id, data: { record }, disabled: mover.put === null });
  const called = calledIn(namingFields(app, table), record);
  return (
    <li ref={setNodeRef} {...listeners} className={isDragging ? 'dragged' : ''}>
      <RecordCard table={table} list={list} record={record} selection={selection} without={[field.id]} most={3}>
        {marks !== null && <RowMark record={record} marks={marks} label={`Choose ${called}`} />}
        {mover.put !== null && (
          <>
            <button type="button" className="put" aria-haspopup="menu" aria-label={`Move ${called}`} onClick={(event) => setAnchor(event.currentTarget)}>
              <ArrowRightIcon size={14} />
            </button>
            <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} transitionDuration={0}>
              {mover.columns
                .filter((boardColumn) => boardColumn !== column)
                .map((to) => (
                  <MenuItem
                    key={JSON.stringify(written(to.value))}
                    onClick={() => {
                      setAnchor(null);
                      mover.put?.(record, to);
                    }}
                  >
                    {valueWords(app, field, to.value)}
                  </MenuItem>
                ))}
            </Menu>
          </>
        )}
      </RecordCard>
    </li>
  );
}
