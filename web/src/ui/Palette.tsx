import { contract, everyPage, shownTables } from '@bibliona/core';
import Dialog from '@mui/material/Dialog';
import { MagnifyingGlassIcon } from '@phosphor-icons/react';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useDeferredValue, useEffect, useMemo, useState, type KeyboardEvent } from 'react';
import { useNavigate } from 'react-router';
import { create } from 'zustand';
import { call } from '../state/api.js';
import { rolesInHand, useApp } from '../state/app.js';
import { keys } from '../state/keys.js';
import { shownRecord, useOwnMenu } from '../state/own-menu.js';
import { menuEntries, workshopPath } from '../state/pages.js';
import { useShortcut } from '../state/shortcuts.js';

export const usePalette = create<{ isOpen: boolean; open: () => void; close: () => void }>((set) => ({
  isOpen: false,
  open: () => set({ isOpen: true }),
  close: () => set({ isOpen: false }),
}));

interface Entry {
  readonly key: string;
  readonly name: string;
  readonly what: string;
  readonly to: string;
}

/** Ctrl+K: finds tables, records and commands of the app at hand. */
export function Palette({ side }: { readonly side: 'workshop' | 'desk' }) {
  const { isOpen, open, close } = usePalette();
  useShortcut('find', isOpen ? null : open);
  return isOpen ? <Opened side={side} onClose={close} /> : null;
}

function Opened({ side, onClose }: { readonly side: 'workshop' | 'desk'; readonly onClose: () => void }) {
  const app = useApp();
  const navigate = useNavigate();
  const { menu } = useOwnMenu();
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const asked = useDeferredValue(text.trim());
  const records = useInfiniteQuery({
    queryKey: keys.search(app.id, asked),
    queryFn: ({ pageParam, signal }) => call(contract.searchRecords, { params: { app: app.id }, query: { text: asked, from: pageParam }, signal }),
    initialPageParam: 0,
    getNextPageParam: (page) => page.next ?? undefined,
    enabled: asked.length > 1,
  });
  const { hasNextPage, isFetching, fetchNextPage } = records;
  const pages = records.data?.pages;
  // Answers come table by table, until all have been looked through or enough was found.
  useEffect(() => {
    if (hasNextPage && !isFetching && (pages ?? []).reduce((sum, page) => sum + page.found.length, 0) < 30) void fetchNextPage();
  }, [hasNextPage, isFetching, pages, fetchNextPage]);

  const entries = useMemo(() => {
    const isBuilder = app.role === 'builder';
    const commands: Entry[] = [
      ...shownTables(app.design)
        .filter((table) => app.rights[table.id]?.add === true)
        .map((table) => ({
          key: `new ${table.id}`,
          name: `New record in ${table.name}`,
          what: 'command',
          to: app.rights[table.id]?.see === true ? `/desk/${app.id}/${table.id}/new` : `/desk/${app.id}/f/${table.id}`,
        })),
      ...(isBuilder
        ? [
            { key: 'table', name: 'Add a table', what: 'command', to: `/workshop/${app.id}/tables?add=table` },
            { key: 'relationship', name: 'Add a relationship', what: 'command', to: `/workshop/${app.id}/tables?add=relationship` },
            { key: 'form', name: 'Add a form', what: 'command', to: `/workshop/${app.id}/screens?add=form` },
            { key: 'list', name: 'Add a list', what: 'command', to: `/workshop/${app.id}/screens?add=list` },
            { key: 'query', name: 'Add a query', what: 'command', to: `/workshop/${app.id}/queries?add=query` },
            { key: 'report', name: 'Add a report', what: 'command', to: `/workshop/${app.id}/reports?add=report` },
            { key: 'dashboard', name: 'Add a dashboard', what: 'command', to: `/workshop/${app.id}/dashboards?add=dashboard` },
            { key: 'route', name: 'Add a route', what: 'command', to: `/workshop/${app.id}/workflows?add=route` },
            { key: 'automation', name: 'Add an automation', what: 'command', to: `/workshop/${app.id}/workflows?add=automation` },
            { key: 'mails', name: 'Mails of the app', what: 'command', to: `/workshop/${app.id}/workflows/mails` },
            { key: 'person', name: 'Invite someone', what: 'command', to: `/workshop/${app.id}/access/people?add=person` },
            { key: 'versions', name: 'Versions of the app', what: 'command', to: `/workshop/${app.id}/versions` },
            { key: 'import', name: 'Import a spreadsheet', what: 'command', to: `/workshop/${app.id}/import` },
            side === 'desk'
              ? { key: 'workshop', name: 'To the Workshop', what: 'command', to: `/workshop/${app.id}/tables` }
              : { key: 'desk', name: 'To the Desk', what: 'command', to: `/desk/${app.id}` },
          ]
        : []),
    ];
    const seen = shownTables(app.design).filter((table) => app.rights[table.id]?.see === true);
    const tables: Entry[] = seen.flatMap((table) => [
      { key: `list ${table.id}`, name: table.name, what: 'list', to: `/desk/${app.id}/${table.id}` },
      ...(isBuilder ? [{ key: `table ${table.id}`, name: table.name, what: 'table', to: `/workshop/${app.id}/tables/${table.id}` }] : []),
    ]);
    if (side === 'workshop') tables.reverse();
    const others: Entry[] = menuEntries(app.design, app.id, everyPage(app.design), rolesInHand(app))
      // What a table opens with is found by the table's name.
      .filter(({ isOpening }) => !isOpening)
      .map((entry) => ({
        key: entry.to,
        name: entry.name,
        what: entry.page.kind,
        to: side === 'workshop' ? workshopPath(app.id, entry.page) : entry.to,
      }));
    const words = text.toLowerCase().split(/\s+/u);
    const holds = (entry: Entry): boolean => words.every((word) => `${entry.name} ${entry.what}`.toLowerCase().includes(word));
    const found: Entry[] =
      asked.length > 1
        ? (pages ?? [])
            .flatMap((page) => page.found)
            .map((each) => ({
              key: `${each.table} ${each.id}`,
              name: each.caption,
              what: app.design.tables.find((table) => table.id === each.table)?.name ?? '',
              to: `/desk/${app.id}/${each.table}/${each.id}`,
            }))
        : [];
    const opened: Entry[] =
      side === 'desk' && text.trim() === ''
        ? (menu?.recent ?? []).map((each) => shownRecord(app, each)).map(({ name, of, to }) => ({ key: `opened ${to}`, name, what: of, to }))
        : [];
    return [...opened, ...tables.filter(holds), ...others.filter(holds), ...found, ...commands.filter(holds)].slice(0, 40);
  }, [app, side, text, asked, pages, menu]);
  const here = Math.min(at, Math.max(entries.length - 1, 0));
  const go = (entry: Entry | undefined): void => {
    if (entry === undefined) return;
    onClose();
    void navigate(entry.to);
  };
  const onKey = (event: KeyboardEvent): void => {
    if (event.key === 'ArrowDown') setAt(Math.min(here + 1, entries.length - 1));
    else if (event.key === 'ArrowUp') setAt(Math.max(here - 1, 0));
    else if (event.key === 'Enter') go(entries[here]);
    else return;
    event.preventDefault();
  };
  return (
    <Dialog open onClose={onClose} aria-label="Search or run a command" transitionDuration={0} slotProps={{ paper: { className: 'palette' } }}>
      <div className="inp on palette-find">
        <MagnifyingGlassIcon size={16} />
        <input
          autoFocus
          value={text}
          onChange={(event) => (setText(event.target.value), setAt(0))}
          onKeyDown={onKey}
          role="combobox"
          aria-label="Find a table, a record or a command"
          aria-expanded
          aria-controls="palette-found"
          aria-activedescendant={entries[here] === undefined ? undefined : `palette-${here}`}
          placeholder="Find a table, a record or a command"
        />
      </div>
      <ul id="palette-found" role="listbox" aria-label="Found">
        {entries.map((entry, i) => (
          <li
            key={entry.key}
            id={`palette-${i}`}
            role="option"
            aria-selected={i === here}
            className={i === here ? 'on' : ''}
            onMouseMove={() => setAt(i)}
            onClick={() => go(entry)}
          >
            <span className="el">{entry.name}</span>
            <span className="k">{entry.what}</span>
          </li>
        ))}
      </ul>
      {entries.length === 0 && <p className="q palette-none">{isFetching || hasNextPage ? 'Searching …' : `Nothing found for “${text}”.`}</p>}
      {(pages ?? []).some((page) => page.left.length > 0) && (
        <p className="q palette-none">Some tables are too large for such a short search. Type more letters.</p>
      )}
    </Dialog>
  );
}
