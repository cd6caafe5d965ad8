import Button from '@mui/material/Button';
import { ArrowsSplitIcon, ArrowUpIcon, TableIcon } from '@phosphor-icons/react';
import { canBeTable, cannotGo, tableOf, type Field, type Table } from '@bibliona/core';
import { useState } from 'react';
import { useApp } from '../../state/app.js';
import { MakeTable } from './MakeTable.js';
import { MoveFields, waysOut } from './MoveFields.js';
import { SeveralParents } from './OneOrSeveral.js';

/** What can be done with a field so that its values go over to somewhere else. */
export function FieldRearrange({ table, field }: { readonly table: Table; readonly field: Field }) {
  const { design } = useApp();
  const [doing, setDoing] = useState<'table' | 'move' | 'several' | null>(null);
  const close = (): void => setDoing(null);
  const relationship = design.relationships.find((each) => each.field === field.id);
  const canMove = cannotGo(design, table, field) === null && waysOut(design, table).length > 0;
  const canBeSeveral = relationship !== undefined && relationship.parent !== relationship.child && !table.isLink;
  const canBe = canBeTable(design, field);
  if (!canBe && !canMove && !canBeSeveral) return null;
  return (
    <div className="details-foot rearrange">
      {canBe && (
        <Button startIcon={<TableIcon />} onClick={() => setDoing('table')}>
          Make it a table
        </Button>
      )}
      {canMove && (
        <Button startIcon={<ArrowUpIcon />} onClick={() => setDoing('move')}>
          Move to another table
        </Button>
      )}
      {canBeSeveral && (
        <Button startIcon={<ArrowsSplitIcon />} onClick={() => setDoing('several')}>
          Allow several of {tableOf(design, relationship.parent).name}
        </Button>
      )}
      {doing === 'table' && <MakeTable table={table} field={field} onClose={close} />}
      {doing === 'move' && <MoveFields table={table} chosen={[field.id]} onClose={close} />}
      {doing === 'several' && relationship !== undefined && <SeveralParents relationship={relationship} onClose={close} />}
    </div>
  );
}
