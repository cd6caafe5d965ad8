import IconButton from '@mui/material/IconButton';
import { XIcon } from '@phosphor-icons/react';
import type { FormItemOf } from '@bibliona/core';
import { useEffect, useRef } from 'react';
import { useApp } from '../../state/app.js';
import RelatedList from './RelatedList.js';

/** So many records of each list are shown; the list itself shows all. */
const rowsShown = 20;

/** What belongs to one of the rows in a form: records that refer to its record, as their lists show them. */
export default function BelowRow(props: {
  readonly below: NonNullable<FormItemOf<'children'>['below']>;
  readonly record: number;
  /** What the row is called. */
  readonly name: string;
  readonly onClose: () => void;
}) {
  const { below, record, name, onClose } = props;
  const { design, rights } = useApp();
  const seen = below.filter(({ list: id }) => design.lists.some((list) => list.id === id && rights[list.table]?.see === true));
  // Below many rows it would be out of sight of the press that asks for it.
  const section = useRef<HTMLElement>(null);
  useEffect(() => {
    section.current?.scrollIntoView({ block: 'nearest' });
  }, []);
  return (
    <section className="below-row" ref={section} aria-label={`Belongs to ${name}`}>
      <header className="row">
        <span className="q">
          Belongs to <b>{name}</b>
        </span>
        <IconButton aria-label={`Close what belongs to ${name}`} onClick={onClose}>
          <XIcon size={14} />
        </IconButton>
      </header>
      {seen.map(({ list, by }) => (
        <RelatedList key={`${list} ${by}`} item={{ list, by, rows: rowsShown }} record={record} />
      ))}
    </section>
  );
}
