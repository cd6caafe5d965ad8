import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import {
  Published,
  publishedColumns,
  publishedProblem,
  tableShown,
  type List,
  type PublishedKind,
  type PublishedPart,
  type Report,
  type Tile,
} from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { Copied } from './Copied.js';
import { PublicSwitch } from './PublicSwitch.js';
import { seeingRole } from './visitor-roles.js';
import { WebsiteFields } from './WebsiteFields.js';

type Publishable = List | Report | Tile;

interface Props<P extends Publishable> {
  readonly kind: PublishedKind;
  /** As addresses name it. */
  readonly name: string;
  readonly part: P;
  /** Whether it is public as it is saved: only then does its address lead somewhere. */
  readonly isOpen: boolean;
  readonly onChange: (part: P) => void;
}

/** Whether anyone can see a list, a report or a tile, through which role, and on which websites. */
export function PublishSettings<P extends Publishable>(props: Props<P>) {
  const { part, onChange } = props;
  const { design } = useApp();
  const table = tableShown(design, part);
  const settings = part.public;
  const close = (): void => {
    const { public: _, ...rest } = part;
    onChange(rest as P);
  };
  return (
    <PublicSwitch
      label="Anyone can see it, without signing in"
      isPublic={settings !== undefined}
      role={() => (table === null ? null : seeingRole(design, table, part.name))}
      onOpen={(role) => onChange({ ...part, public: { role, sites: [] } })}
      onClose={close}
    >
      {settings !== undefined && <Terms {...props} settings={settings} />}
    </PublicSwitch>
  );
}

function Terms<P extends Publishable>({ kind, name, part, isOpen, onChange, settings }: Props<P> & { readonly settings: Published }) {
  const app = useApp();
  const { design } = app;
  const address = `${window.location.origin}/public/${app.id}/${kind}/${name}`;
  const problem = publishedProblem(design, part, settings);
  const wrong = Published.safeParse(settings).error?.issues.find((issue) => issue.path[0] === 'sites')?.message;
  const set = (next: Partial<Published>): void => onChange({ ...part, public: { ...settings, ...next } });
  return (
    <>
      {problem !== null && <Note kind="bad">{problem}</Note>}
      {isOpen ? <Copied label="Address" text={address} link={address} /> : <p className="q sm">Save it to open its address.</p>}
      <TextField
        select
        label="Visitors see what this role sees"
        value={settings.role}
        onChange={(event) => set({ role: event.target.value })}
        helperText="What changes is shown there within half a minute."
      >
        {design.roles.map((role) => (
          <MenuItem key={role.id} value={role.id}>
            {role.name}
          </MenuItem>
        ))}
      </TextField>
      {'columns' in part && problem === null && <ColumnNotes list={{ ...part, public: settings }} />}
      <WebsiteFields app={app.id} kind={kind} name={name} sites={settings.sites} problem={wrong} onChange={(sites) => set({ sites })} />
    </>
  );
}

/** What of its columns visitors don't see, or see otherwise than people of the app. */
function ColumnNotes({ list }: { readonly list: PublishedPart<'list'> }) {
  const { leftOut, partial } = publishedColumns(useApp().design, list);
  return (
    <>
      {leftOut.length > 0 && <p className="q sm">Visitors don't see {leftOut.join(', ')}.</p>}
      {partial.length > 0 && (
        <Note kind="look">
          {partial.join(', ')} {partial.length === 1 ? 'is' : 'are'} computed from records of which this role sees only some, or none. Visitors see what comes
          of those.
        </Note>
      )}
    </>
  );
}
