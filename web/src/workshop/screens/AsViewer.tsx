import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { contract, designFor, type AppDesign, type Form, type OpenApp } from '@bibliona/core';
import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useMemo, useState, type ReactNode } from 'react';
import { call, messageOf } from '../../state/api.js';
import { AppContext, useApp } from '../../state/app.js';
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
  if (data === undefined) return <Waiting />;
  return (
    <WithTheirDesign key={`${viewer} ${app.version}`} {...{ viewer, form, opened: data }}>
      {children}
    </WithTheirDesign>
  );
}

function WithTheirDesign(props: {
  readonly viewer: Viewer;
  readonly form: Form;
  readonly opened: OpenApp;
  readonly children: (shown: Form | null) => ReactNode;
}) {
  const { viewer, opened, children } = props;
  const { design } = useApp();
  // The whole design is gone through: typing does not wait for it.
  const form = useDeferredValue(props.form);
  const told = useMemo((): AppDesign => {
    const drafted = { ...design, forms: design.forms.map((each) => (each.id === form.id ? form : each)) };
    const { me, ties } = opened;
    return designFor(drafted, { id: 0, name: me.Name, mail: me.Mail, role: 'member', roles: opened.design.roles.map((role) => role.id), ties });
  }, [design, form, opened]);
  // What is read as somebody else is kept apart from what the builder reads.
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: false } } }));
  const seen = useMemo(() => ({ ...opened, design: told }), [opened, told]);
  const asked = useMemo(() => ({ lookAs: viewer }), [viewer]);
  return (
    <QueryClientProvider client={client}>
      <AskedAsContext value={asked}>
        <AppContext value={seen}>{children(told.forms.find((each) => each.id === form.id) ?? null)}</AppContext>
      </AskedAsContext>
    </QueryClientProvider>
  );
}
