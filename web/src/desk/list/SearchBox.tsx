import { MagnifyingGlassIcon, XIcon } from '@phosphor-icons/react';
import { useEffect, useRef, useState } from 'react';
import { useShortcut } from '../../state/shortcuts.js';

/** Where one writes what is searched in a list. It is searched for when the typing stops, or with Enter. */
export function SearchBox({ text, name, onText }: { readonly text: string; readonly name: string; readonly onText: (text: string) => void }) {
  const [typed, setTyped] = useState(text);
  const [applied, setApplied] = useState(text);
  if (applied !== text) {
    // The address changed by itself, as "back" does: the box follows.
    setApplied(text);
    setTyped(text);
  }
  useEffect(() => {
    if (typed === text) return;
    const timer = setTimeout(() => onText(typed), 250);
    return () => clearTimeout(timer);
    // Only typing starts the wait.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [typed]);
  const input = useRef<HTMLInputElement>(null);
  useShortcut('search', () => input.current?.focus());
  return (
    <label className="inp find">
      <MagnifyingGlassIcon size={16} />
      <input
        ref={input}
        className="bare-input"
        type="search"
        maxLength={200}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => event.key === 'Enter' && onText(typed)}
        aria-label={`Search ${name}`}
        placeholder="Search"
      />
      {typed !== '' && (
        <button type="button" className="clear" aria-label="Clear the search" onClick={() => setTyped('')}>
          <XIcon size={14} />
        </button>
      )}
    </label>
  );
}
