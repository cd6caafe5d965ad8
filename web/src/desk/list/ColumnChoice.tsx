import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import Popover from '@mui/material/Popover';
import Tooltip from '@mui/material/Tooltip';
import { ColumnsIcon } from '@phosphor-icons/react';
import { contract, linksOf, type List, type ListColumns, type Table } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp, type AppInHand } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Note } from '../../ui/Note.js';

/** The columns of a list as this person chose them, or as the list has them. */
export function useColumns(
  table: Table,
  list: List,
): {
  readonly columns: ListColumns;
  readonly isOwn: boolean;
  readonly problem: string | null;
  readonly keep: (columns: ListColumns | null) => void;
} {
  const app = useApp();
  const client = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  // What was just chosen shows at once: the app that is at hand tells of it a moment later.
  const [chosen, setChosen] = useState<{ readonly list: string; readonly columns: ListColumns | null } | null>(null);
  const own = chosen?.list === list.id ? (chosen.columns ?? undefined) : app.views[list.id];
  const there = [...table.fields, ...linksOf(app.design, table.id)].map((field) => field.id);
  const columns = (own ?? list.columns.map((field) => ({ field, width: null }))).filter((each) => there.includes(each.field));
  const keep = (next: ListColumns | null): void => {
    setChosen({ list: list.id, columns: next });
    // A reading that is under way does not know of it yet, and comes after it.
    const opening = { queryKey: keys.app(app.id), exact: true };
    const isReading = client.isFetching(opening) > 0;
    if (isReading) void client.cancelQueries(opening);
    client.setQueryData<AppInHand>(keys.app(app.id), (open) => {
      if (open === undefined) return open;
      const { [list.id]: _, ...others } = open.views;
      return { ...open, views: next === null ? others : { ...others, [list.id]: next } };
    });
    call(contract.keepColumns, { params: { app: app.id, list: list.id }, body: { columns: next } }).then(
      () => {
        setProblem(null);
        if (isReading) void client.invalidateQueries(opening);
      },
      (error: unknown) => setProblem(messageOf(error)),
    );
  };
  return { columns, isOwn: own !== undefined, problem, keep };
}

/** Chooses which fields the list shows. Their order and widths are changed in the list itself. */
export function ColumnChoice({
  table,
  columns,
  isOwn,
  problem,
  onKeep,
}: {
  readonly table: Table;
  readonly columns: ListColumns;
  readonly isOwn: boolean;
  readonly problem: string | null;
  readonly onKeep: (columns: ListColumns | null) => void;
}) {
  const app = useApp();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const links = linksOf(app.design, table.id).map(({ id, childrenName }) => ({ id, name: childrenName }));
  const isShown = (field: string): boolean => columns.some((column) => column.field === field);
  return (
    <>
      <Tooltip title="Columns">
        <IconButton aria-label={`Columns of ${table.name}`} aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
          <ColumnsIcon size={18} />
        </IconButton>
      </Tooltip>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        transitionDuration={0}
        slotProps={{ paper: { className: 'column-choice', role: 'dialog', 'aria-label': `Columns of ${table.name}` } }}
      >
        <p className="q sm">
          Drag a column head to move it, and its edge to make it wider. On a head, Ctrl and an arrow key move it, Alt and an arrow key change its width.
        </p>
        <ul>
          {[...table.fields, ...links].map((field) => (
            <li key={field.id}>
              <FormControlLabel
                control={
                  <Checkbox
                    checked={isShown(field.id)}
                    disabled={isShown(field.id) && columns.length === 1}
                    onChange={(event) =>
                      onKeep(event.target.checked ? [...columns, { field: field.id, width: null }] : columns.filter((column) => column.field !== field.id))
                    }
                  />
                }
                label={field.name}
              />
            </li>
          ))}
        </ul>
        {problem !== null && <Note kind="bad">{problem}</Note>}
        {isOwn && (
          <Button
            onClick={() => {
              onKeep(null);
              // The button goes with what it resets: the focus returns to where the choice was opened.
              setAnchor(null);
            }}
          >
            Reset columns
          </Button>
        )}
      </Popover>
    </>
  );
}
