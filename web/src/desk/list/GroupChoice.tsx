import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Popover from '@mui/material/Popover';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import { StackIcon } from '@phosphor-icons/react';
import { mostLevels } from '@bibliona/core';
import { useState } from 'react';

/** Chooses by which fields or columns rows are grouped, level by level. */
export function GroupChoice(props: {
  /** What the rows are called. */
  readonly name: string;
  readonly by: readonly string[];
  readonly offered: readonly { readonly id: string; readonly name: string }[];
  readonly onChange: (by: readonly string[]) => void;
  /** Back to the groups that it has by itself; absent where it has these, or none. */
  readonly onReset?: (() => void) | undefined;
}) {
  const { name, by, offered, onChange, onReset } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  if (offered.length === 0) return null;
  const levels = Array.from({ length: Math.min(by.length + 1, mostLevels) }, (_, i) => by[i] ?? '');
  const set = (level: number, id: string): void =>
    onChange(
      id === '' ? by.filter((_, i) => i !== level) : [...by.slice(0, level), id, ...by.slice(level + 1)].filter((each, i, all) => all.indexOf(each) === i),
    );
  return (
    <>
      <Tooltip title="Group">
        <IconButton aria-label={`Group ${name}`} aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
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
        slotProps={{ paper: { className: 'column-choice group-choice', role: 'dialog', 'aria-label': `Group ${name}` } }}
      >
        {levels.map((id, level) => (
          <TextField key={level} select label={level === 0 ? 'Group by' : 'Then by'} value={id} onChange={(event) => set(level, event.target.value)}>
            <MenuItem value="">{level === 0 ? 'No groups' : 'Nothing else'}</MenuItem>
            {offered
              .filter((each) => each.id === id || !by.includes(each.id))
              .map((each) => (
                <MenuItem key={each.id} value={each.id}>
                  {each.name}
                </MenuItem>
              ))}
          </TextField>
        ))}
        {onReset !== undefined && (
          <Button
            onClick={() => {
              onReset();
              // The button goes, and the focus would with it.
              setAnchor(null);
            }}
          >
            Reset groups
          </Button>
        )}
      </Popover>
    </>
  );
}
