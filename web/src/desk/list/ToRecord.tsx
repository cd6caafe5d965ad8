import type { Selection, Table } from '@bibliona/core';
import type { ComponentProps } from 'react';
import { Link } from 'react-router';
import { useRecordSource } from './record-source.js';

type Props = Omit<ComponentProps<typeof Link>, 'to'> & { readonly table: Table; readonly record: number; readonly selection: Selection };

/** What a record is called, as the way to it. A row that sums up many records leads nowhere. */
export function ToRecord({ table, record, selection, ...props }: Props) {
  const address = useRecordSource(table).addressOf(record, selection);
  return address === null ? <a {...props} /> : <Link to={address} {...props} />;
}
