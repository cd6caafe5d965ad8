import { contract, type Table } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { referredKey } from './referred.js';

/** The record that was added, by what it is called; by its number until that is read, or where it can't be. */
export function AddedRecord({ table, id }: { readonly table: Table; readonly id: number }) {
  const app = useApp();
  const { data } = useQuery({
    queryKey: referredKey(app.id, table.id, id),
    queryFn: () => call(contract.readRecord, { params: { app: app.id, table: table.id, id }, query: { children: 'no' } }),
    retry: false,
  });
  return (
    <Link className="lk" to={`/desk/${app.id}/${table.id}/${id}`}>
      {data?.caption ?? `No. ${id}`}
    </Link>
  );
}
