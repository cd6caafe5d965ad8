import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { contract, designFor, type AppDesign, type Form, type OpenApp } from '@bibliona/core';
import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useEffect, useMemo, type ReactNode } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { AskedAsContext } from '../../state/asked-as.js';
import { keys } from '../../state/keys.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';

/** As the server takes it: `person:12`, `role:keeper`; empty: as the builder at hand. */
type Viewer = string;

/** Chooses a person or a role. */
export function ViewerPicker({ value, onPick }: { readonly value: Viewer; readonly onPick: (viewer: Viewer) => void }) {
  const app = useApp();
  const { data } = useQuery({ queryKey: keys.people(app.id), queryFn: () => call(contract.readPeople, { params: { app: app.id } }) });
  const people = (data?.people ?? []).filter((person) => person.role === 'member');
  return (
    <TextField
      select
      size="small"
      value={value}
      onChange={(event) => onPick(event.target.value)}
      slotProps={{ select: { displayEmpty: true, inputProps: { 'aria-label': 'As whom' } } }}
    >
      <MenuItem value="">As a builder</MenuItem>
      {app.design.roles.map((role) => (
        <MenuItem key={role.id} value={`role:${role.id}`}>
          As the role {role.name}
        </MenuItem>
      ))}
      {people.map((person) => (
        <MenuItem key={person.id} value={`person:${person.id}`}>
          As {person.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

/**
 * What another person would be shown of a form as it is designed now, saved or not: their part of the design, read with
 * their permissions.
 * @param children draws it; null: they are not shown this form
 */
export function AsViewer({ viewer, form, children }: { readonly viewer: Viewer; readonly form: Form; readonly children: (shown: Form | null) => ReactNode }) {
  const app = useApp();
  const { data, error } = useQuery({
    queryKey: [...keys.seenAs(app.id, 'form', viewer), app.version],
    queryFn: () => call(contract.openApp, { params: { app: app.id }, lookAs: viewer }),
  });
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  return data === undefined ? <Waiting /> : <WithTheirDesign {...{ viewer, form, opened: data }}>{children}</WithTheirDesign>;
}

function WithTheirDesign(props: {
  readonly viewer: Viewer;
  readonly form: Form;
  readonly opened: OpenApp;
  readonly children: (shown: Form | null) => ReactNode;
}) {
  const { viewer, opened, children } = props;
  const { design, id } = useApp();
  // The whole design is gone through: typing does not wait for it.
  const form = useDeferredValue(props.form);
  const told = useMemo((): AppDesign => {
    const drafted = { ...design, forms: design.forms.map((each) => (each.id === form.id ? form : each)) };
    const { me, ties } = opened;
    return designFor(drafted, { id: 0, name: me.Name, mail: me.Mail, role: 'member', roles: opened.design.roles.map((role) => role.id), ties });
  }, [design, form, opened]);
  // What is read as somebody else is kept apart from what the builder reads.
  const client = useMemo(() => {
    const own = new QueryClient({ defaultOptions: { queries: { retry: false } } });
    own.setQueryDefaults(keys.app(id), { staleTime: Infinity });
    own.setQueryData(keys.app(id), { ...opened, design: told });
    return own;
    // It is told of later changes below, and keeps what it has read.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [id, opened]);
  useEffect(() => {
    client.setQueryData(keys.app(id), { ...opened, design: told });
  }, [client, id, opened, told]);
  const asked = useMemo(() => ({ lookAs: viewer }), [viewer]);
  return (
    <QueryClientProvider client={client}>
      <AskedAsContext value={asked}>
        <ShownForm id={form.id}>{children}</ShownForm>
      </AskedAsContext>
    </QueryClientProvider>
  );
}

function ShownForm({ id, children }: { readonly id: string; readonly children: (shown: Form | null) => ReactNode }) {
  const { design } = useApp();
  return children(design.forms.find((each) => each.id === id) ?? null);
}
