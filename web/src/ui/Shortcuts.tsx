import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { shortcuts, useShortcut, useShortcutHelp, type Shortcut } from '../state/shortcuts.js';

const all: readonly Shortcut[] = Object.values(shortcuts);

/** The keys that do something, by where they do it. Opened with a question mark, or from the menu of the person. */
export function Shortcuts() {
  const { isOpen, open, close } = useShortcutHelp();
  useShortcut('help', open);
  if (!isOpen) return null;
  return (
    <Dialog open onClose={close} aria-labelledby="shortcuts-title" transitionDuration={0} slotProps={{ paper: { className: 'dialog' } }}>
      <div className="ask">
        <h2 id="shortcuts-title">Keyboard shortcuts</h2>
        <div className="dialog-fields">
          {[...new Set(all.map((shortcut) => shortcut.where))].map((where) => (
            <section key={where} className="shortcuts">
              <h3>{where}</h3>
              <dl>
                {all
                  .filter((shortcut) => shortcut.where === where)
                  .map((shortcut) => (
                    <div key={shortcut.keys}>
                      <dt>
                        {shortcut.shown.map((key) => (
                          <kbd key={key}>{key}</kbd>
                        ))}
                      </dt>
                      <dd>{shortcut.description}</dd>
                    </div>
                  ))}
              </dl>
            </section>
          ))}
          <p className="q sm">On a Mac, Cmd does the same as Ctrl, and Option the same as Alt.</p>
        </div>
        <div className="ask-foot">
          <Button variant="contained" autoFocus onClick={close}>
            Close
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
