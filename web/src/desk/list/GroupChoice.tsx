import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Popover from '@mui/material/Popover';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import { StackIcon } from '@phosphor-icons/react';
import { canNarrow, mostLevels, type List, type Selection, type Table } from '@bibliona/core';
import { useState } from 'react';
import { useRights } from '../../state/app.js';
import type { useSelection } from './selection.js';

/** Chooses by which fields a list is grouped, level by level. */
export function GroupChoice(props: {
  readonly table: Table;
  readonly list: List;
  readonly selection: Selection;
  readonly onChange: ReturnType<typeof useSelection>['change'];
}) {
  const { table, list, selection, onChange } = props;
  const { hidden } = useRights(table.id);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const by = selection.by ?? list.groupBy;
  const offered = table.fields.filter((field) => canNarrow(field) && !hidden.includes(field.id));
  if (offered.length === 0) return null;
  const levels = Array.from({ length: Math.min(by.length + 1, mostLevels) }, (_, i) => by[i] ?? '');
  const set = (level: number, id: string): void =>
    onChange({
      by: id === '' ? by.filter((_, i) => i !== level) : [...by.slice(0, level), id, ...by.slice(level + 1)].filter((each, i, all) => all.indexOf(each) === i),
    });
  return (
    <>
      <Tooltip title="Group">
        <IconButton aria-label={`Group ${table.name}`} aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
          <StackIcon size={18} weight={by.length > 0 ? 'fill' : 'regular'} />
        </IconButton>
      </Tooltip>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        transitionDuration={0}
        slotProps={{ paper: { className: 'column-choice group-choice', role: 'dialog', 'aria-label': `Group ${table.name}` } }}
      >
        {levels.map((id, level) => (
          <TextField key={level} select label={level === 0 ? 'Group by' : 'Then by'} value={id} onChange={(event) => set(level, event.target.value)}>
            <MenuItem value="">{level === 0 ? 'No groups' : 'Nothing else'}</MenuItem>
            {offered
              .filter((field) => field.id === id || !by.includes(field.id))
              .map((field) => (
                <MenuItem key={field.id} value={field.id}>
                  {field.name}
                </MenuItem>
              ))}
          </TextField>
        ))}
        {selection.by !== undefined && <Button onClick={() => onChange({ by: undefined })}>Reset groups</Button>}
      </Popover>
    </>
  );
}
