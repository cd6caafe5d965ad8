import type { Table } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { useApp } from '../../state/app.js';
import { readAlone } from './referred.js';

/** The record that was added, by what it is called; by its number until that is read, or where it can't be. */
export function AddedRecord({ table, id }: { readonly table: Table; readonly id: number }) {
  const app = useApp();
  const { data } = useQuery(readAlone(app.id, table.id, id));
  return (
    <Link className="lk" to={`/desk/${app.id}/${table.id}/${id}`}>
      {data?.caption ?? `No. ${id}`}
    </Link>
  );
}
