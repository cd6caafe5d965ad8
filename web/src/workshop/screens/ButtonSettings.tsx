import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { childrenOf, everyPage, otherSide, type AppDesign, type ButtonDoes, type FormItemOf, type Page, type Table } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { menuEntries } from '../../state/pages.js';
import type { SettingsProps } from './item-looks.js';

interface Choice {
  readonly name: string;
  readonly does: ButtonDoes;
}

interface Doing {
  readonly words: string;
  /** What can be chosen of it; null: it is written. */
  readonly choices: ((design: AppDesign, app: string, table: Table) => readonly Choice[]) | null;
  readonly label: string;
  /** What is said where there is nothing to choose. */
  readonly none: string;
}

const pageName = (kind: Page['kind'], name: string): string => `${name} (${kind})`;

const doings: { readonly [K in ButtonDoes['kind']]: Doing } = {
  page: {
    words: 'Open a page of the Desk',
    label: 'Page',
    none: '',
    choices: (design, app) =>
      menuEntries(design, app, everyPage(design)).map(({ page, name }) => ({ name: pageName(page.kind, name), does: { kind: 'page', page } })),
  },
  add: {
    words: 'Add a record that belongs to this one',
    label: 'Record of',
    none: 'No table refers to this one. Draw a relationship at the station Tables first.',
    choices: (design, _, table) =>
      childrenOf(design, table.id)
        .filter((child) => otherSide(design, child) === null)
        .map((child) => ({ name: child.childrenName, does: { kind: 'add', relationship: child.id } })),
  },
  run: {
    words: 'Run an automation',
    label: 'Automation',
    none: 'No automation of this table is run by a button. Make one at the station Workflows, with the trigger “has its button pressed”.',
    choices: (design, _, table) =>
      design.automations
        .filter((automation) => automation.table === table.id && automation.on === 'started')
        .map((automation) => ({ name: automation.name, does: { kind: 'run', automation: automation.id } })),
  },
  address: { words: 'Open an address on the web', label: 'Address', none: '', choices: null },
};

/** The address with which a button begins that opens one. */
const firstAddress = 'https://example.org';

/** What a button does when it is pressed. */
export function ButtonSettings({ item, table, onChange }: SettingsProps<FormItemOf<'button'>>) {
  const { design, id: app } = useApp();
  const { does } = item;
  const set = (next: ButtonDoes): void => onChange({ ...item, does: next });
  const { choices, label, none } = doings[does.kind];
  const offered = choices?.(design, app, table) ?? [];
  const chosen = offered.findIndex((choice) => JSON.stringify(choice.does) === JSON.stringify(does));
  return (
    <>
      <TextField label="Label" value={item.name} onChange={(event) => onChange({ ...item, name: event.target.value })} required />
      <TextField
        select
        label="When it is pressed"
        value={does.kind}
        onChange={(event) => {
          const kind = event.target.value as ButtonDoes['kind'];
          const first = doings[kind].choices?.(design, app, table)[0]?.does ?? (kind === 'address' ? ({ kind, address: firstAddress } as const) : null);
          if (first !== null) set(first);
        }}
        helperText={Object.values(doings)
          .filter((doing) => doing.none !== '' && doing.choices?.(design, app, table).length === 0)
          .map((doing) => doing.none)
          .join(' ')}
      >
        {(Object.keys(doings) as ButtonDoes['kind'][]).map((kind) => (
          <MenuItem key={kind} value={kind} disabled={doings[kind].choices?.(design, app, table).length === 0}>
            {doings[kind].words}
          </MenuItem>
        ))}
      </TextField>
      {does.kind === 'address' ? (
        <TextField
          label={label}
          value={does.address}
          onChange={(event) => set({ kind: 'address', address: event.target.value })}
          helperText="It opens in a new tab."
        />
      ) : (
        <TextField
          select
          label={label}
          value={chosen}
          onChange={(event) => set(offered[Number(event.target.value)]?.does ?? does)}
          helperText={none === '' || offered.length > 0 ? undefined : none}
        >
          {offered.map((choice, i) => (
            <MenuItem key={choice.name} value={i}>
              {choice.name}
            </MenuItem>
          ))}
        </TextField>
      )}
    </>
  );
}
