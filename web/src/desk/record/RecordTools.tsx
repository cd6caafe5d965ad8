import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { ClockCounterClockwiseIcon, CopyIcon, PencilRulerIcon, PrinterIcon } from '@phosphor-icons/react';
import type { Form, OpenRecord, Table } from '@bibliona/core';
import { Link } from 'react-router';
import { useApp, rightsIn, useRights } from '../../state/app.js';
import { keysOf } from '../../state/shortcuts.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { printPage } from '../../ui/printing.js';
import { RemoveRecord } from './RemoveRecord.js';

/** What can be done with a record besides filling in its form. */
export function RecordTools(props: {
  readonly table: Table;
  readonly layout: Form;
  readonly open: OpenRecord | null;
  /** Where one is when it was removed. */
  readonly list: string;
  readonly duplicate: () => void;
  readonly showsHistory: boolean;
  readonly onHistory: () => void;
  readonly onGone: () => void;
}) {
  const { table, layout, open, list, duplicate, showsHistory, onHistory, onGone } = props;
  const app = useApp();
  const rights = rightsIn(useRights(table.id), open);
  const isNarrow = useIsNarrow();
  return (
    <>
      {open !== null && rights.remove && <RemoveRecord table={table} open={open} list={list} onGone={onGone} />}
      {app.role === 'builder' && !isNarrow && (
        <Tooltip title="Design this form">
          <IconButton component={Link} to={`/workshop/${app.id}/screens/${layout.id}`} aria-label="Design this form">
            <PencilRulerIcon size={18} />
          </IconButton>
        </Tooltip>
      )}
      {open !== null && (
        <Tooltip title={showsHistory ? 'Hide comments and history' : 'Show comments and history'}>
          <IconButton aria-label="Comments and history" aria-expanded={showsHistory} onClick={onHistory}>
            <ClockCounterClockwiseIcon size={18} />
          </IconButton>
        </Tooltip>
      )}
      {open !== null && !isNarrow && (
        <Tooltip title="Print">
          <IconButton aria-label="Print" onClick={printPage}>
            <PrinterIcon size={18} />
          </IconButton>
        </Tooltip>
      )}
      {open !== null && rights.add && (
        <Tooltip title={`Duplicate (${keysOf('duplicate')})`}>
          <IconButton aria-label="Duplicate" onClick={duplicate}>
            <CopyIcon size={18} />
          </IconButton>
        </Tooltip>
      )}
    </>
  );
}
