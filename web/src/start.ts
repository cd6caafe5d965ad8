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
import { startElkAhead } from './ui/elk-worker.js';

const address = addressed(window.location.pathname, window.location.search);
startEarly('/api/me');
void import('./main.js');
if (address !== null) {
  for (const screen of address.screens) void screens[screen]().catch(() => undefined);
  // The largest script of all lays out the diagram. It runs beside the page, so it can begin now.
  if (address.screens.includes('diagram')) startElkAhead();
  // A builder who looks as someone else sends another header. What this window keeps takes long to read for the first time: all
  // that can be asked for without it already is.
  if (lookedAs(address.app) === null) for (const path of [`/api/apps/${address.app}`, ...address.data]) startEarly(path);
}
