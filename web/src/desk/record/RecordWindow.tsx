import Dialog from '@mui/material/Dialog';
import type { Table } from '@bibliona/core';
import { Suspense, type KeyboardEvent } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { useAppId } from '../../state/app.js';
import { windowName } from '../../state/shortcuts.js';
import { Waiting } from '../../ui/Waiting.js';
import { readSelection, withSelection } from '../list/selection.js';
import { InWindow } from './in-window.js';
import RecordScreen from './RecordScreen.js';

/** A record over its list. Its address is the same as on a page of its own; closing it leads to the list. */
export default function RecordWindow({ table }: { readonly table: Table }) {
  const app = useAppId();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const close = (): void => void navigate(withSelection(`/desk/${app}/${table.id}`, readSelection(search, table)));
  const onKeyDown = (event: KeyboardEvent): void => {
    // In an input, or in a list that it opened, Escape is about what is typed.
    const isInside = event.target instanceof Node && event.currentTarget.contains(event.target);
    if (event.key !== 'Escape' || event.defaultPrevented || !isInside || (event.target as HTMLElement).matches('input, textarea, [contenteditable]')) return;
    event.stopPropagation();
    close();
  };
  return (
    <Dialog
      open
      onClose={(_, reason) => reason === 'backdropClick' && close()}
      onKeyDown={onKeyDown}
      maxWidth={false}
      transitionDuration={0}
      slotProps={{ paper: { className: windowName, 'aria-label': `Record of ${table.name}` } }}
    >
      <InWindow value={close}>
        <Suspense fallback={<Waiting />}>
          <RecordScreen />
        </Suspense>
      </InWindow>
    </Dialog>
  );
}
