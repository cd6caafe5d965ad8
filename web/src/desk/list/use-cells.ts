import { contract, mostWrites, tablesTouched, type Field, type RecordAnswer, type Table } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { touched } from '../../state/live.js';
import { locale } from '../../state/locale.js';
import type { CellBlock, CellsAtOnce } from '../../ui/grid/use-cell-block.js';
import type { Rows } from '../../ui/grid/rows.js';
import type * as cellsModule from './cells.js';
import type { CellsOf } from './cells.js';
import type { Done } from './JustDone.js';
import { calledIn } from './RecordCard.js';
import { refusalOf } from './refusal-of.js';
import { namingFields } from './values.js';

const mostSaid = 5;
/** In milliseconds: after so long it is said that the cells are being changed. */
const patience = 500;

/** Why cells were not pasted, filled or emptied: nothing was changed then. */
export interface NotDone {
  readonly message: string;
  readonly problems: readonly string[];
}

/** What is done with several cells of a list at once, each time in one save. */
export function useCells(
  table: Table,
  rows: Rows<RecordAnswer>,
  canEdit: (record: RecordAnswer, field: Field) => boolean,
  onDone: (done: Done) => void,
): { readonly atOnce: CellsAtOnce; readonly isAtWork: boolean; readonly notDone: NotDone | null; readonly dismiss: () => void } {
  const app = useApp();
  const client = useQueryClient();
  const [notDone, setNotDone] = useState<NotDone | null>(null);
  const [isAtWork, setAtWork] = useState(false);
  const called = (record: RecordAnswer): string => calledIn(namingFields(app, table), record);

  const change = async (block: CellBlock, rowCount: number, given: (cells: Cells, of: CellsOf) => ReturnType<Cells['emptied']>, leftOut = 0): Promise<void> => {
    setNotDone(null);
    // Most people look at a list before they change something in it.
    const cells = await import('./cells.js');
    const { first } = block.rows;
    const records = await rows.load({ first, end: first + rowCount });
    const fields = block.columns.map((id) => table.fields.find((field) => field.id === id) ?? null);
    let closed = 0;
    const isOpen = (record: RecordAnswer, field: Field): boolean => {
      const may = canEdit(record, field);
      if (!may) closed += 1;
      return may;
    };
    const wanted = given(cells, { records, fields, width: block.width, canEdit: isOpen });
    const { writes, cells: count, problems } = await cells.writesOfCells(app, table, wanted, called);
    if (problems.length > 0) {
      const more = problems.length - mostSaid;
      return setNotDone({
        message:
          problems.length === 1 ? 'One cell does not fit. Nothing was changed.' : `${locale().count(problems.length)} cells do not fit. Nothing was changed.`,
        problems: [...problems.slice(0, mostSaid), ...(more > 0 ? [`And ${locale().count(more)} more.`] : [])],
      });
    }
    const missing = leftOut + records.filter((record) => record === undefined).length;
    const without = missing === 0 ? '' : ` ${locale().count(missing)} more ${missing === 1 ? 'row' : 'rows'} had no record to go to: add those first.`;
    if (wanted.length === 0 && closed > 0) return setNotDone({ message: `These cells can’t be changed in the list.${without}`, problems: [] });
    if (writes.length === 0) return setNotDone({ message: `These cells have these values already.${without}`, problems: [] });
    const unchanged = closed === 0 ? '' : ` ${closed === 1 ? '1 cell' : `${locale().count(closed)} cells`} can’t be changed in the list, and stayed.`;
    const save = crypto.randomUUID();
    try {
      await call(contract.saveRecords, { params: { app: app.id }, body: { key: save, writes: [...writes] } });
      onDone({
        save,
        message: `${count === 1 ? '1 cell was' : `${locale().count(count)} cells were`} changed in ${recordsIn(writes.length)}.${unchanged}${without}`,
      });
    } catch (error) {
      const known = records.filter((record) => record !== undefined);
      setNotDone({ message: `${refusalOf(error, writes, known, called)} Nothing was changed.`, problems: [] });
    }
    await touched(client, app, tablesTouched(app.design, writes));
  };
  const start = (work: Promise<void>): void => {
    const late = setTimeout(() => setAtWork(true), patience);
    void work
      .catch((error: unknown) => setNotDone({ message: `${messageOf(error)} Nothing was changed.`, problems: [] }))
      .finally(() => {
        clearTimeout(late);
        setAtWork(false);
      });
  };
  const lengthOf = ({ rows: { first, end } }: CellBlock): number => end - first;

  return {
    notDone,
    isAtWork,
    dismiss: () => setNotDone(null),
    atOnce: {
      paste: (block, cells) => {
        // A block that is higher than what is pasted takes it again and again, as far as that comes out even.
        const height = lengthOf(block) % cells.length === 0 ? lengthOf(block) : cells.length;
        start(change(block, Math.min(height, mostWrites), (work, of) => work.pastedInto(of, cells), Math.max(0, height - mostWrites)));
      },
      fill: (block) => start(change(block, lengthOf(block), (work, of) => work.filledDown(of))),
      empty: (block) => start(change(block, lengthOf(block), (work, of) => work.emptied(of))),
    },
  };
}
type Cells = typeof cellsModule;

const recordsIn = (count: number): string => (count === 1 ? '1 record' : `${locale().count(count)} records`);
