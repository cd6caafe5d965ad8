import Button from '@mui/material/Button';
import { ArrowSquareOutIcon } from '@phosphor-icons/react';
import { relationshipOf, type FormItemOf, type OpenRecord } from '@bibliona/core';
import { Link } from 'react-router';
import { useApp } from '../../state/app.js';
import { menuEntries } from '../../state/pages.js';
import { withSelection } from '../list/selection.js';
import type { ItemProps } from './form-items.js';
import { useStart } from './use-start.js';

/** A button on a form: it opens a page or an address, adds a record that belongs to this one, or runs an automation for it. */
export default function FormButton({ item, open, table }: ItemProps<FormItemOf<'button'>>) {
  const app = useApp();
  const { does, name } = item;
  switch (does.kind) {
    case 'page': {
      const [entry] = menuEntries(app.design, app.id, [does.page]);
      return entry === undefined ? null : (
        <Button variant="outlined" component={Link} to={entry.to}>
          {name}
        </Button>
      );
    }
    case 'address':
      return (
        <Button variant="outlined" href={does.address} target="_blank" rel="noopener noreferrer" endIcon={<ArrowSquareOutIcon size={14} />}>
          {name}
        </Button>
      );
    case 'add': {
      const { child, field } = relationshipOf(app.design, does.relationship);
      const to = withSelection(`/desk/${app.id}/${child}/new`, { search: '', direction: 'up', narrowed: [{ field, values: [open?.record.id ?? 0] }] });
      return open === null ? null : (
        <Button variant="outlined" component={Link} to={to}>
          {name}
        </Button>
      );
    }
    case 'run':
      return open === null ? null : <RunButton name={name} automation={does.automation} table={table.id} open={open} />;
    default:
      return does satisfies never;
  }
}

function RunButton({
  name,
  automation,
  table,
  open,
}: {
  readonly name: string;
  readonly automation: string;
  readonly table: string;
  readonly open: OpenRecord;
}) {
  const { isDoing, saysOf, start } = useStart(table, open);
  return (
    <>
      <Button variant="outlined" loading={isDoing(automation, open.record.id)} onClick={() => start({ id: automation, name })}>
        {name}
      </Button>
      {saysOf(automation)}
    </>
  );
}
