import { shownTables } from '@bibliona/core';
import { printCount, useApp, useCounts } from '../../state/app.js';
import { Shelf } from '../Shelf.js';

export function TableShelf({ selected }: { readonly selected: string | undefined }) {
  const app = useApp();
  const counts = useCounts(app.id);
  return (
    <Shelf
      books={shownTables(app.design).map((table) => ({
        id: table.id,
        name: table.name,
        section: table.section,
        to: `/workshop/${app.id}/tables/${table.id}`,
        words: table.fields.map((field) => field.name),
        count: printCount(counts, table.id),
      }))}
      selected={selected}
      heading="Tables"
      find="Find a table or field"
      none={{ at: 'No tables yet.', found: 'No tables or fields match.' }}
      adds={[{ name: 'Table', to: `/workshop/${app.id}/tables?add=table` }]}
    />
  );
}
