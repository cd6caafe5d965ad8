import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { ArrowUpIcon, TableIcon, TrashIcon } from '@phosphor-icons/react';
import type { LinkSide, Table } from '@bibliona/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { Note } from '../../ui/Note.js';
import { OneParent } from '../rearrange/OneOrSeveral.js';

/** A relationship in which each record of two tables can have several of the other. */
export function LinkDetails({ link, sides }: { readonly link: Table; readonly sides: readonly [LinkSide, LinkSide] }) {
  const app = useApp();
  const { change } = useDesignChange();
  const navigate = useNavigate();
  const [first, second] = sides;
  const [names, setNames] = useState<readonly string[]>(sides.map((side) => side.relationship.childrenName));
  const [problem, setProblem] = useState<string | null>(null);
  const [isNarrowing, setNarrowing] = useState(false);
  const renamed = sides.flatMap((side, i) => {
    const childrenName = names[i] ?? '';
    return childrenName === side.relationship.childrenName ? [] : [{ kind: 'change_relationship' as const, relationship: side.relationship.id, childrenName }];
  });
  const done = async (outcome: Promise<true | { readonly text: string }>): Promise<boolean> => {
    const result = await outcome;
    setProblem(result === true ? null : result.text);
    return result === true;
  };
  const remove = async (): Promise<void> => {
    if (await done(change({ kind: 'remove', part: 'table', id: link.id }))) await navigate(`/workshop/${app.id}/tables`);
  };
  return (
    <>
      <header>
        <div className="kind">Relationship</div>
        <h2>{link.name}</h2>
        <p className="q sm">
          A record of {first.table.name} can have several of {second.table.name}, and the other way round. They are picked in the forms of both.
        </p>
      </header>
      <form
        className="details-body details-form"
        onSubmit={(event) => {
          event.preventDefault();
          void done(change(...renamed));
        }}
      >
        {sides.map((side, i) => (
          <TextField
            key={side.relationship.id}
            label={`Shown on ${side.table.name} as`}
            value={names[i] ?? ''}
            onChange={(event) => setNames(names.map((name, at) => (at === i ? event.target.value : name)))}
            required
          />
        ))}
        {problem !== null && <Note kind="bad">{problem}</Note>}
        <div className="details-foot">
          <Button type="submit" variant="outlined" disabled={renamed.length === 0}>
            Save names
          </Button>
          <Button startIcon={<TableIcon />} onClick={() => void done(change({ kind: 'change_table', table: link.id, isLink: false }))}>
            Give it fields
          </Button>
          <Button startIcon={<ArrowUpIcon />} onClick={() => setNarrowing(true)}>
            Allow only one
          </Button>
          <Button startIcon={<TrashIcon />} onClick={() => void remove()}>
            Remove relationship
          </Button>
        </div>
        <p className="q sm">“Give it fields” makes a table of it, with a row for each pair: for a date or a note that belongs to both records together.</p>
      </form>
      {isNarrowing && <OneParent link={link} sides={sides} onClose={() => setNarrowing(false)} />}
    </>
  );
}
