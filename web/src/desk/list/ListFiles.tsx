import type { Selection, Table } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { ExportMenu } from '../../ui/ExportMenu.js';
import { filesOf } from './files.js';

/** The records of a list as a file, as it is searched, filtered and sorted. */
export default function ListFiles(props: {
  readonly table: Table;
  readonly name: string;
  readonly selection: Selection;
  readonly columns: readonly string[];
  readonly count: number | undefined;
}) {
  const app = useApp();
  return <ExportMenu short="Only the columns shown" files={(isShort) => filesOf(app.id, { ...props, isShort })} />;
}
