import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { BookmarkSimpleIcon } from '@phosphor-icons/react';
import { contract, type List, type Selection, type Table } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp, type AppInHand } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Ask } from '../../ui/Ask.js';
import { withSelection } from './selection.js';

// It writes conditions, which a list by itself has no need of.
const KeepDialog = lazy(() => import('./KeepDialog.js'));

type OwnList = AppInHand['ownLists'][number];

const address = (table: string, selection: Selection): string => withSelection(table, selection);
/** The list of their own that someone looks at: the one that is searched, narrowed, sorted and grouped the same. */
export const ownListAt = (app: AppInHand, table: Table, selection: Selection): OwnList | undefined =>
  app.ownLists.find((own) => address(own.table, own.selection) === address(table.id, selection));

/** Whether a list is looked at in any other way than it was made. */
const isChanged = ({ search, sort, narrowed, by }: Selection): boolean => search !== '' || sort !== undefined || narrowed !== undefined || by !== undefined;

/** Keeps the list as it is looked at now, under a name in the menu; or lets one that is kept go. */
export function KeepList({ table, list, selection }: { readonly table: Table; readonly list: List; readonly selection: Selection }) {
  const app = useApp();
  const client = useQueryClient();
  const [isNaming, setNaming] = useState(false);
  const [isAsking, setAsking] = useState(false);
  const [problem, setProblem] = useState<string | undefined>(undefined);
  const own = ownListAt(app, table, selection);
  const remove = async (id: string): Promise<void> => {
    try {
      await call(contract.removeOwnList, { params: { app: app.id, own: id } });
      await client.invalidateQueries({ queryKey: keys.app(app.id), exact: true });
      setAsking(false);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const says = app.role === 'builder' ? 'Keep this list' : 'Keep as my list';
  if (own === undefined && !isChanged(selection)) return null;
  return (
    <>
      {own === undefined ? (
        <Tooltip title={says}>
          <IconButton aria-label={says} onClick={() => setNaming(true)}>
            <BookmarkSimpleIcon size={18} />
          </IconButton>
        </Tooltip>
      ) : (
        <Tooltip title={`Remove ${own.name} from my lists`}>
          <IconButton aria-label={`Remove ${own.name} from my lists`} onClick={() => (setProblem(undefined), setAsking(true))}>
            <BookmarkSimpleIcon size={18} weight="fill" />
          </IconButton>
        </Tooltip>
      )}
      {isNaming && (
        <Suspense>
          <KeepDialog title={says} table={table} list={list} selection={selection} onClose={() => setNaming(false)} />
        </Suspense>
      )}
      {isAsking && own !== undefined && (
        <Ask
          title={`Remove ${own.name} from my lists?`}
          verb="Remove the list"
          keep="Cancel"
          onAnswer={(yes) => (yes ? void remove(own.id) : setAsking(false))}
        >
          {problem ?? 'Its records stay where they are.'}
        </Ask>
      )}
    </>
  );
}
