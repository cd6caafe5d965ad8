import Button from '@mui/material/Button';
import { MagnifyingGlassIcon, PlusIcon } from '@phosphor-icons/react';
import { useLayoutEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { sectionsOf } from '../state/sections.js';

export interface Book {
  readonly id: string;
  readonly name: string;
  readonly section: string;
  readonly to: string;
  /** Words by which it is found besides its name. */
  readonly words?: readonly string[];
  readonly count?: string;
}

/** How far each shelf was scrolled, in pixels, by its heading. */
const scrolled = new Map<string, number>();

/** What exists at a station, under the builder's own headings, and found by typing. */
export function Shelf(props: {
  readonly books: readonly Book[];
  readonly selected: string | undefined;
  /** Heading of what is under none. */
  readonly heading: string;
  readonly find: string;
  readonly none: { readonly at: string; readonly found: string };
  readonly adds: readonly { readonly name: string; readonly to: string }[];
}) {
  const [text, setText] = useState('');
  const wanted = text.trim().toLowerCase();
  const found = props.books.filter((book) => wanted === '' || [book.name, ...(book.words ?? [])].some((word) => word.toLowerCase().includes(wanted)));
  // Opening another part draws the shelf anew: it stays where it was scrolled to, and shows the open part.
  const stack = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    if (stack.current === null) return;
    stack.current.scrollTop = scrolled.get(props.heading) ?? 0;
    stack.current.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' });
  }, [props.heading, props.selected]);
  return (
    <aside className="shelf" aria-label="Shelf" data-region="shelf">
      <label className="inp find">
        <MagnifyingGlassIcon size={16} />
        <input
          type="search"
          className="bare-input"
          value={text}
          onChange={(event) => setText(event.target.value)}
          placeholder={props.find}
          aria-label={props.find}
        />
      </label>
      <div className="stack" ref={stack} onScroll={({ currentTarget }) => scrolled.set(props.heading, currentTarget.scrollTop)}>
        {sectionsOf(found).map((section) => (
          <section className="bay" key={section.name}>
            <h3>
              {section.name === '' ? props.heading : section.name}
              <span>{section.parts.length}</span>
            </h3>
            <ul>
              {section.parts.map((book) => (
                <li key={book.id}>
                  <Link to={book.to} className={book.id === props.selected ? 'vol on' : 'vol'} aria-current={book.id === props.selected ? 'true' : undefined}>
                    <span className="el">{book.name}</span>
                    <span className="k">{book.count}</span>
                  </Link>
                </li>
              ))}
            </ul>
          </section>
        ))}
        {found.length === 0 && <p className="q shelf-none">{props.books.length === 0 ? props.none.at : props.none.found}</p>}
      </div>
      <footer>
        {props.adds.map((add) => (
          <Button key={add.name} className="go" startIcon={<PlusIcon />} component={Link} to={add.to}>
            {add.name}
          </Button>
        ))}
      </footer>
    </aside>
  );
}
