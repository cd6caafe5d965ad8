import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { BracketsCurlyIcon } from '@phosphor-icons/react';
import { check, membersOf, readText, wants, type Scope } from '@bibliona/core';
import { useMemo, useRef, useState } from 'react';

/** What is wrong with a text that is filled in for a record; null: nothing. */
function problemOf(text: string, scope: Scope): string | null {
  const read = readText(text);
  if (!read.ok) return read.problem;
  for (const piece of read.pieces) {
    if (piece.kind === 'words') continue;
    const checked = check(piece.text, scope, wants.shown);
    if (!checked.ok) return `{${piece.text}}: ${checked.problems[0]?.message ?? ''}`;
  }
  return null;
}

/** A text with expressions in braces. Fields are put in where the caret stands. */
export function MergeTextEditor(props: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (text: string) => void;
  readonly scope: Scope & { readonly table: string };
  readonly isLong?: boolean;
}) {
  const { label, value, onChange, scope, isLong = false } = props;
  const input = useRef<HTMLInputElement | HTMLTextAreaElement | null>(null);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const problem = useMemo(() => problemOf(value, scope), [value, scope]);
  const names = membersOf(scope.design, scope.table)
    .filter((member) => member.kind === 'field')
    .map((member) => member.name);
  const insert = (name: string): void => {
    setAnchor(null);
    const at = input.current?.selectionStart ?? value.length;
    const to = input.current?.selectionEnd ?? at;
    const piece = `{${name}}`;
    onChange(value.slice(0, at) + piece + value.slice(to));
    // The caret goes on behind what was put in, once the field shows it.
    requestAnimationFrame(() => {
      input.current?.focus();
      input.current?.setSelectionRange(at + piece.length, at + piece.length);
    });
  };
  return (
    <div className="merge-text">
      <TextField
        label={label}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        inputRef={input}
        multiline={isLong}
        minRows={isLong ? 5 : 1}
        maxRows={16}
        error={problem !== null}
        helperText={problem ?? undefined}
      />
      <Button size="small" className="go" startIcon={<BracketsCurlyIcon />} aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        Field into {label.toLowerCase()}
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)} transitionDuration={0}>
        {[...names, 'me.Name'].map((name) => (
          <MenuItem key={name} onClick={() => insert(name)}>
            {name}
          </MenuItem>
        ))}
      </Menu>
    </div>
  );
}
