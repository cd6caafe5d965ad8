import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useColorScheme } from '@mui/material/styles';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useShortcutHelp } from '../state/shortcuts.js';
import { initials, useSession, useSignOut } from '../state/session.js';

/** Who is signed in, the theme, and the way out. */
export function PersonMenu({ hasShortcuts = false }: { readonly hasShortcuts?: boolean }) {
  const { person } = useSession();
  const { mode, setMode } = useColorScheme();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const signOut = useSignOut();
  const navigate = useNavigate();
  const showShortcuts = useShortcutHelp((state) => state.open);
  if (person === null) return null;
  const close = (): void => setAnchor(null);
  const themes = { light: 'Light', dark: 'Dark', system: 'As the system' } as const;
  return (
    <>
      <button
        type="button"
        className="face"
        aria-label={`${person.name}: profile, theme and sign out`}
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
        {(['light', 'dark', 'system'] as const).map((each) => (
          <MenuItem key={each} selected={mode === each} onClick={() => (setMode(each), close())}>
            {themes[each]}
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
        {person.isAdmin && <MenuItem onClick={() => (close(), void navigate('/server'))}>Server</MenuItem>}
        <MenuItem onClick={() => (close(), void navigate('/profile'))}>Profile</MenuItem>
        {hasShortcuts && <MenuItem onClick={() => (close(), showShortcuts())}>Keyboard shortcuts</MenuItem>}
        <MenuItem onClick={() => void signOut('/sign-in')}>Sign out</MenuItem>
      </Menu>
    </>
  );
}
