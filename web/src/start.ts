/** The first script of the page. It asks for the person, the app and the screen at once: one after another takes several times as long. */
// The shared styles come before those of single screens, in whatever order the scripts arrive.
import './look/base.css';
import './look/parts/bar-and-inputs.css';
import './look/parts/rows.css';
import './look/parts/popover.css';
import './look/parts/pages.css';
import './look/parts/dialogs.css';
import './look/parts/palette.css';
import './look/parts/spine.css';
import { addressed, screens } from './screens.js';
import { startEarly } from './state/early.js';
import { lookedAs } from './state/look-as.js';

const address = addressed(window.location.pathname, window.location.search);
startEarly('/api/me');
if (address !== null) {
  // A builder who looks as someone else sends another header.
  if (lookedAs(address.app) === null) for (const path of [`/api/apps/${address.app}`, ...address.data]) startEarly(path);
  for (const screen of address.screens) void screens[screen]().catch(() => undefined);
}
void import('./main.js');
