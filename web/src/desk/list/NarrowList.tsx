import { contract, fieldKinds, filesIn, isImage, printValue, type Field, type RecordAnswer, type Selection, type Table } from '@bibliona/core';
import Button from '@mui/material/Button';
import { useInfiniteQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { addressOf } from '../../ui/files/held.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { asked, withSelection } from './selection.js';
import { locale } from '../../state/locale.js';

/** The list on a phone: a record is a few lines, and more come at the end. */
export function NarrowList({ table, selection }: { readonly table: Table; readonly selection: Selection }) {
  const app = useApp();
  const pages = useInfiniteQuery({
    queryKey: [...keys.table(app.id, table.id), 'narrow', selection],
    queryFn: ({ pageParam }) =>
      call(contract.readPage, {
        params: { app: app.id, table: table.id },
        query: { ...asked(selection), limit: 100, ...(pageParam === null ? {} : { after: JSON.stringify(pageParam) }) },
      }),
    initialPageParam: null as { value: string | number | boolean | null; id: number } | null,
    getNextPageParam: (page) => page.next,
  });
  if (pages.isPending) return <Waiting />;
  if (pages.isError) return <Note kind="bad">{messageOf(pages.error)}</Note>;
  const named = table.fields.filter((field) => app.captions[table.id]?.includes(field.id));
  const pictured = table.fields.find((field) => field.kind === 'image');
  const others = table.fields.filter((field) => !named.includes(field) && field !== pictured && fieldKinds[field.kind].traits.listed).slice(0, 4);
  const words = (record: RecordAnswer, fields: readonly Field[]): string =>
    fields
      .map((field) => printValue(field, record.values[field.id] ?? null, locale()))
      .filter((text) => text !== '')
      .join(' · ');
  return (
    <>
      <ul className="narrow-rows">
        {pages.data.pages
          .flatMap((page) => page.records)
          .map((record) => (
            <li key={record.id}>
              <Link to={withSelection(`/desk/${app.id}/${table.id}/${record.id}`, selection)}>
                <b>{words(record, named) || `No. ${record.id}`}</b>
                <span className="q">{words(record, others)}</span>
                {pictured !== undefined && <Picture field={pictured} table={table} record={record} />}
              </Link>
            </li>
          ))}
      </ul>
      {pages.hasNextPage && (
        <Button className="more-rows" variant="outlined" loading={pages.isFetchingNextPage} onClick={() => void pages.fetchNextPage()}>
          More records
        </Button>
      )}
    </>
  );
}

/** The first image of a record; its name says nothing that the words beside it don't. */
function Picture({ field, table, record }: { readonly field: Field; readonly table: Table; readonly record: RecordAnswer }) {
  const app = useApp();
  const [first] = filesIn(record.values[field.id]).filter(isImage);
  if (first === undefined) return null;
  return <img src={addressOf({ app: app.id, table: table.id, record: record.id, field: field.id }, first, 'preview')} alt="" loading="lazy" />;
}
