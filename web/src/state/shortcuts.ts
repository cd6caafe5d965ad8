/** What keys do: for the screens that answer to them, and for the page that tells of them. */
import { useEffect } from 'react';
import { tinykeys } from 'tinykeys';
import { create } from 'zustand';
import { isTyping, tellTyped } from '../fields/typed.js';

export interface Shortcut {
  /** As `tinykeys` reads it; `$mod` is Ctrl, and Cmd on a Mac. */
  readonly keys: string;
  /** As it is written on the keys. */
  readonly shown: readonly string[];
  readonly description: string;
  readonly where: 'Everywhere' | 'In a list' | 'In a record' | 'In the diagram of tables';
  /** It does nothing while an input has the focus: it can be typed there, or would leave it with what was typed. */
  readonly notInText?: true;
}

export const shortcuts = {
  find: { keys: '$mod+k', shown: ['Ctrl', 'K'], description: 'Jump to a record or a page', where: 'Everywhere' },
  help: { keys: 'Shift+?', shown: ['?'], description: 'Show these shortcuts', where: 'Everywhere', notInText: true },
  search: { keys: '/', shown: ['/'], description: 'Search the list', where: 'In a list', notInText: true },
  add: { keys: 'Alt+KeyN', shown: ['Alt', 'N'], description: 'New record', where: 'In a list', notInText: true },
  // The grid itself answers to these.
  chooseCells: { keys: 'Shift+Arrow', shown: ['Shift', 'Arrow key'], description: 'Choose several cells', where: 'In a list', notInText: true },
  copyCells: { keys: '$mod+c', shown: ['Ctrl', 'C'], description: 'Copy the cells', where: 'In a list', notInText: true },
  pasteCells: { keys: '$mod+v', shown: ['Ctrl', 'V'], description: 'Paste into the cells', where: 'In a list', notInText: true },
  fillCells: { keys: '$mod+d', shown: ['Ctrl', 'D'], description: 'Fill the cells from the first of them', where: 'In a list', notInText: true },
  save: { keys: '$mod+s', shown: ['Ctrl', 'S'], description: 'Save', where: 'In a record' },
  change: { keys: 'Alt+KeyE', shown: ['Alt', 'E'], description: 'Change a record that is only read so far', where: 'In a record' },
  saveAndAdd: { keys: '$mod+Enter', shown: ['Ctrl', 'Enter'], description: 'Save, and begin a new record', where: 'In a record' },
  duplicate: { keys: 'Alt+KeyD', shown: ['Alt', 'D'], description: 'Duplicate the record with its rows', where: 'In a record' },
  previous: { keys: 'Alt+PageUp', shown: ['Alt', 'Page up'], description: 'Previous record of the list', where: 'In a record' },
  next: { keys: 'Alt+PageDown', shown: ['Alt', 'Page down'], description: 'Next record of the list', where: 'In a record' },
  // The card that has the focus answers to it.
  moveTable: { keys: 'Alt+Arrow', shown: ['Alt', 'Arrow key'], description: 'Move the table', where: 'In the diagram of tables', notInText: true },
} as const satisfies Readonly<Record<string, Shortcut>>;
export type ShortcutName = keyof typeof shortcuts;

export const keysOf = (name: ShortcutName): string => shortcuts[name].shown.join(' ');

const isInText = ({ target }: KeyboardEvent): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || /^(?:INPUT|TEXTAREA|SELECT)$/u.test(target.tagName));

/** The class of the window in which a record is open over its list: in it, only the list is out of reach. */
export const windowName = 'record-window';
const isUnderDialog = ({ where }: Shortcut): boolean =>
  document.querySelector(`[role=dialog][aria-modal=true]${where === 'In a list' ? '' : `:not(.${windowName})`}`) !== null;

/** Does something at a key while a screen is shown. Null: not now. What lies under a dialog does nothing. */
export function useShortcut(name: ShortcutName, act: (() => void) | null): void {
  useEffect(() => {
    if (act === null) return undefined;
    const shortcut: Shortcut = shortcuts[name];
    return tinykeys(window, {
      [shortcut.keys]: (event) => {
        if (event.defaultPrevented || (shortcut.notInText === true && isInText(event)) || isUnderDialog(shortcut)) return;
        event.preventDefault();
        if (!isTyping()) return act();
        // The form hears of the last keys first, so that it knows that there is something to lose.
        tellTyped();
        setTimeout(act);
      },
    });
  });
}

export const useShortcutHelp = create<{ isOpen: boolean; open: () => void; close: () => void }>((set) => ({
  isOpen: false,
  open: () => set({ isOpen: true }),
  close: () => set({ isOpen: false }),
}));
