import { contract } from '@bibliona/core';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useColorScheme } from '@mui/material/styles';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../state/api.js';
import { keys } from '../state/keys.js';
import { initials, useSession } from '../state/session.js';

/** Who is signed in, the theme, and the way out. */
export function PersonMenu() {
  const { person } = useSession();
  const { mode, setMode } = useColorScheme();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const client = useQueryClient();
  const navigate = useNavigate();
  if (person === null) return null;
  const close = (): void => setAnchor(null);
  const leave = async (): Promise<void> => {
    await call(contract.signOut);
    // First the address, then the person: else the screen that closes would ask to sign in and come back to it.
    await navigate('/sign-in');
    client.clear();
    client.setQueryData(keys.me, { person: null, needsSetUp: false });
  };
  const themes = { light: 'Light', dark: 'Dark', system: 'As the system' } as const;
  return (
    <>
      <button
        type="button"
        className="face"
        aria-label={`${person.name}: theme and sign out`}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {initials(person.name)}
      </button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={close}>
        <li className="menu-head" role="presentation">
          <b>{person.name}</b>
          <span>{person.email}</span>
        </li>
        {(['light', 'dark', 'system'] as const).map((one) => (
          <MenuItem key={one} selected={mode === one} onClick={() => (setMode(one), close())}>
            {themes[one]}
          </MenuItem>
        ))}
        <MenuItem
          divider
          onClick={() => {
            close();
            void navigate('/');
          }}
        >
          My apps
        </MenuItem>
        <MenuItem onClick={() => void leave()}>Sign out</MenuItem>
      </Menu>
    </>
  );
}
