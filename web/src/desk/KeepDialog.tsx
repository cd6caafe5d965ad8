import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { contract, namedList, tableOf, tablesOfPage, type AppDesign, type DesignChange, type KeptList, type List, type Selection } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call, messageOf } from '../state/api.js';
import { newId, rolesInHand, useApp } from '../state/app.js';
import { keys } from '../state/keys.js';
import { loadLanguage } from '../state/language.js';
import { FormDialog } from '../ui/FormDialog.js';

/** For oneself, for everybody who works with the table, or for a role, by its id. */
type Whose = 'own' | 'all' | (string & {});

/** Keeps a list as it is looked at now: for oneself, or, by a builder, as a list of the app for others. The rows of a query are kept for oneself. */
export default function KeepDialog({ title, of, onClose }: { readonly title: string; readonly of: KeptList; readonly onClose: () => void }) {
  const app = useApp();
  const list = of.kind === 'table' ? namedList(app.design, of.table, of.selection.list, rolesInHand(app)) : null;
  const client = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState('');
  const [whose, setWhose] = useState<Whose>('own');
  const [wrong, setWrong] = useState<string | undefined>(undefined);
  const [problem, setProblem] = useState<string | undefined>(undefined);
  const [isSending, setSending] = useState(false);
  const roles = app.role === 'builder' && list !== null ? app.design.roles : [];
  const keep = async (): Promise<void> => {
    if (whose === 'own' || list === null || of.kind === 'query') {
      await call(contract.keepOwnList, { params: { app: app.id, own: crypto.randomUUID() }, body: { name: name.trim(), of } });
      return client.invalidateQueries({ queryKey: keys.app(app.id), exact: true });
    }
    const { table, selection } = of;
    const { narrowedCondition } = await loadLanguage();
    const condition = narrowedCondition(app.design, table, list.condition, selection.narrowed ?? []);
    if (condition === null)
      throw new Error('One of these filters can’t be written as a condition. Keep the list for yourself, or make it at the station Forms & lists.');
    const shared = sharedList(list, selection, { id: newId('li'), name: name.trim(), condition, roles: whose === 'all' ? [] : [whose] });
    const changes = [{ kind: 'put', part: 'list', value: shared } as const, ...inMenus(app.design, shared)];
    const opened = await call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes, acceptLoss: false } });
    client.setQueryData(keys.app(app.id), opened);
    void navigate(`/desk/${app.id}/${table}?list=${shared.id}`);
  };
  const send = async (): Promise<void> => {
    if (name.trim() === '') return setWrong('Enter a name for the menu');
    setSending(true);
    try {
      await keep();
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
    setSending(false);
  };
  const isSearched = whose !== 'own' && of.kind === 'table' && of.selection.search !== '';
  const called = list?.name ?? app.design.queries.find((query) => of.kind === 'query' && query.id === of.query)?.name ?? '';
  const parts = list === null ? 'its filters, search and order' : `its filters, ${isSearched ? '' : 'search, '}order and groups`;
  return (
    <FormDialog
      title={title}
      intro={`${called} as you see it now: ${parts}. ${whose === 'own' ? 'Only you see it.' : 'It becomes a list of the app, with the records that each person has access to.'}${isSearched ? ' What you searched for stays out of it.' : ''}`}
      onClose={onClose}
      onSubmit={() => void send()}
      verb="Keep the list"
      isSending={isSending}
      problem={problem}
    >
      <TextField
        label="Name in the menu"
        value={name}
        autoFocus
        required
        onChange={(event) => (setName(event.target.value), setWrong(undefined))}
        error={wrong !== undefined}
        helperText={wrong}
        slotProps={{ htmlInput: { maxLength: 80 } }}
      />
      {app.role === 'builder' && list !== null && (
        <TextField select label="Who sees it" value={whose} onChange={(event) => (setWhose(event.target.value), setProblem(undefined))}>
          <MenuItem value="own">Only me</MenuItem>
          <MenuItem value="all">Everybody who works with {tableOf(app.design, list.table).name}</MenuItem>
          {roles.map((role) => (
            <MenuItem key={role.id} value={role.id}>
              {role.name}
            </MenuItem>
          ))}
        </TextField>
      )}
    </FormDialog>
  );
}

/** A list as it is looked at, as one of the app. */
function sharedList(list: List, { sort, direction, by }: Selection, own: Pick<List, 'id' | 'name' | 'condition' | 'roles'>): List {
  return {
    ...list,
    ...own,
    isDefault: false,
    tones: list.tones.map((tone) => ({ ...tone, id: newId('tn') })),
    ...(sort === undefined ? {} : { order: [{ field: sort, direction }] }),
    ...(by === undefined ? {} : { groupBy: by }),
  };
}

/** A role whose menu names its pages gets the list among them, if it is for the role and the role works with its table. */
function inMenus(design: AppDesign, list: List): readonly DesignChange[] {
  const isIts = (role: AppDesign['roles'][number]): boolean =>
    list.roles.length > 0 ? list.roles.includes(role.id) : role.menu.some((page) => tablesOfPage(design, page).includes(list.table));
  return design.roles
    .filter((role) => role.menu.length > 0 && isIts(role))
    .map((role) => ({ kind: 'put', part: 'role', value: { ...role, menu: [...role.menu, { kind: 'list', list: list.id }] } }));
}
