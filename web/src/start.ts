/**
 * The first script of the page. What the address needs is asked for at once, side by side: who is there, the app, the screen.
 * One after another would take several times as long.
 */
// What all screens share comes before the sheets of their own, whichever script is there first.
import './look/base.css';
import './look/parts.css';
import { addressed, screens } from './screens.js';
import { startEarly } from './state/early.js';
import { lookedAs } from './state/look-as.js';

const address = addressed(window.location.pathname);
startEarly('/api/me');
if (address !== null) {
  // Who looks as someone else asks with another header.
  if (lookedAs(address.app) === null) startEarly(`/api/apps/${address.app}`);
  for (const screen of address.screens) void screens[screen]().catch(() => undefined);
}
void import('./main.js');
