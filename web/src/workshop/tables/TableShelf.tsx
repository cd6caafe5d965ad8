import Button from '@mui/material/Button';
import { MagnifyingGlassIcon, PlusIcon } from '@phosphor-icons/react';
import { useState } from 'react';
import { Link } from 'react-router';
import { printCount, useApp, useCounts } from '../../state/app.js';
import { sectionsOf } from '../../state/sections.js';

export function TableShelf({ selected }: { readonly selected: string | undefined }) {
  const app = useApp();
  const counts = useCounts(app.id);
  const [text, setText] = useState('');
  const wanted = text.trim().toLowerCase();
  const tables = app.design.tables.filter(
    (table) => wanted === '' || table.name.toLowerCase().includes(wanted) || table.fields.some((field) => field.name.toLowerCase().includes(wanted)),
  );
  return (
    <aside className="shelf" aria-label="Shelf" data-region="shelf">
      <label className="inp find">
        <MagnifyingGlassIcon size={16} />
        <input
          type="search"
          className="bare-input"
          value={text}
          onChange={(event) => setText(event.target.value)}
          placeholder="Find a table or field"
          aria-label="Find a table or field"
        />
      </label>
      <div className="stack">
        {sectionsOf(tables).map((section) => (
          <section className="bay" key={section.name}>
            <h3>
              {section.name === '' ? 'Tables' : section.name}
              <span>{section.tables.length}</span>
            </h3>
            <ul>
              {section.tables.map((table) => (
                <li key={table.id}>
                  <Link
                    to={`/workshop/${app.id}/tables/${table.id}`}
                    className={table.id === selected ? 'vol on' : 'vol'}
                    aria-current={table.id === selected ? 'true' : undefined}
                  >
                    <span className="el">{table.name}</span>
                    <span className="k">{printCount(counts, table.id)}</span>
                  </Link>
                </li>
              ))}
            </ul>
          </section>
        ))}
        {tables.length === 0 && <p className="q shelf-none">{app.design.tables.length === 0 ? 'No tables yet.' : 'No table or field is called so.'}</p>}
      </div>
      <footer>
        <Button className="go" startIcon={<PlusIcon />} component={Link} to={`/workshop/${app.id}/tables?add=table`}>
          Table
        </Button>
      </footer>
    </aside>
  );
}
