import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { BookmarkSimpleIcon } from '@phosphor-icons/react';
import { contract, type KeptList } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { call, messageOf } from '../state/api.js';
import { useApp } from '../state/app.js';
import { keys } from '../state/keys.js';
import { Ask } from '../ui/Ask.js';
import { isChanged, ownListAt } from './own-list.js';

// It writes conditions, which a list by itself has no need of.
const KeepDialog = lazy(() => import('./KeepDialog.js'));

/** Keeps a list or the rows of a query as they are shown now, under a name in the menu; or removes them from there. */
export function KeepList({ of }: { readonly of: KeptList }) {
  const app = useApp();
  const client = useQueryClient();
  const [isNaming, setNaming] = useState(false);
  const [isAsking, setAsking] = useState(false);
  const [problem, setProblem] = useState<string | undefined>(undefined);
  const own = ownListAt(app, of);
  const remove = async (id: string): Promise<void> => {
    try {
      await call(contract.removeOwnList, { params: { app: app.id, own: id } });
      await client.invalidateQueries({ queryKey: keys.app(app.id), exact: true });
      setAsking(false);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const label = app.role === 'builder' && of.kind === 'table' ? 'Keep this list' : 'Keep as my list';
  if (own === undefined && !isChanged(of)) return null;
  return (
    <>
      {own === undefined ? (
        <Tooltip title={label}>
          <IconButton aria-label={label} onClick={() => setNaming(true)}>
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
          <KeepDialog title={label} of={of} onClose={() => setNaming(false)} />
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
