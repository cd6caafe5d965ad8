import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import { BookmarkSimpleIcon } from '@phosphor-icons/react';
import { contract, type List, type Selection, type Table } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp, type AppInHand } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Ask } from '../../ui/Ask.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { withSelection } from './selection.js';

type OwnList = AppInHand['ownLists'][number];

const address = (table: string, selection: Selection): string => withSelection(table, selection);
/** The list of their own that someone looks at: the one that is searched, narrowed, sorted and grouped the same. */
const sameAs = (app: AppInHand, table: Table, selection: Selection): OwnList | undefined =>
  app.ownLists.find((own) => address(own.table, own.selection) === address(table.id, selection));

/** Whether a list is looked at in any other way than it was made. */
const isChanged = ({ search, sort, narrowed, by }: Selection): boolean => search !== '' || sort !== undefined || narrowed !== undefined || by !== undefined;

/** Keeps the list as it is looked at now for oneself, under a name in the menu; or lets one that is kept go. */
export function KeepList({ table, list, selection }: { readonly table: Table; readonly list: List; readonly selection: Selection }) {
  const app = useApp();
  const client = useQueryClient();
  const [isNaming, setNaming] = useState(false);
  const [isAsking, setAsking] = useState(false);
  const [name, setName] = useState('');
  const [problem, setProblem] = useState<string | undefined>(undefined);
  const [isSending, setSending] = useState(false);
  const own = sameAs(app, table, selection);
  const send = async (sent: Promise<unknown>): Promise<void> => {
    setSending(true);
    try {
      await sent;
      await client.invalidateQueries({ queryKey: keys.app(app.id), exact: true });
      setNaming(false);
      setAsking(false);
      setProblem(undefined);
    } catch (error) {
      setProblem(messageOf(error));
    }
    setSending(false);
  };
  const keep = (): void => {
    if (name.trim() === '') return setProblem('Enter a name for the menu');
    void send(call(contract.keepOwnList, { params: { app: app.id, own: crypto.randomUUID() }, body: { table: table.id, name: name.trim(), selection } }));
  };
  if (own === undefined && !isChanged(selection)) return null;
  return (
    <>
      {own === undefined ? (
        <Tooltip title="Keep as my list">
          <IconButton aria-label="Keep as my list" onClick={() => (setName(''), setProblem(undefined), setNaming(true))}>
            <BookmarkSimpleIcon size={18} />
          </IconButton>
        </Tooltip>
      ) : (
        <Tooltip title={`Remove ${own.name} from my lists`}>
          <IconButton aria-label={`Remove ${own.name} from my lists`} onClick={() => setAsking(true)}>
            <BookmarkSimpleIcon size={18} weight="fill" />
          </IconButton>
        </Tooltip>
      )}
      {isNaming && (
        <FormDialog
          title="Keep as my list"
          intro={`${list.name} as you see it now: its filters, search, order and groups. Only you see it.`}
          onClose={() => setNaming(false)}
          onSubmit={keep}
          verb="Keep the list"
          isSending={isSending}
        >
          <TextField
            label="Name in the menu"
            value={name}
            autoFocus
            required
            onChange={(event) => (setName(event.target.value), setProblem(undefined))}
            error={problem !== undefined}
            helperText={problem}
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
        </FormDialog>
      )}
      {isAsking && own !== undefined && (
        <Ask
          title={`Remove ${own.name} from my lists?`}
          verb="Remove the list"
          keep="Cancel"
          onAnswer={(yes) => (yes ? void send(call(contract.removeOwnList, { params: { app: app.id, own: own.id } })) : setAsking(false))}
        >
          {problem ?? 'Its records stay where they are.'}
        </Ask>
      )}
    </>
  );
}
