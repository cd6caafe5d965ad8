import { Handle, Position, type Node, type NodeProps } from '@xyflow/react';
import { type Table } from '@bibliona/core';
import { KindIcon } from '../../fields/KindIcon.js';
import { movedByKeys } from './diagram-keys.js';
import { cardWidth, keyFields, type Point } from './diagram-layout.js';
import { namedIn, type DrawnDesign } from './drawn-design.js';

export type CardNode = Node<
  {
    readonly design: DrawnDesign;
    readonly table: Table;
    /** How many records it has, as it is printed. */
    readonly count: string;
    readonly isSelected: boolean;
    readonly isJoin: boolean;
    readonly canJoin: boolean;
    readonly onOpen: (() => void) | undefined;
    readonly onMove: ((by: Point) => void) | undefined;
  },
  'card'
>;

/** A table in the diagram. */
export function TableCard({ data }: NodeProps<CardNode>) {
  const { design, table, count, isSelected, isJoin, canJoin, onOpen, onMove } = data;
  const shown = keyFields(design, table);
  const named = namedIn(design, table);
  const more = table.fields.length - shown.length;
  return (
    <button
      type="button"
      className={`card ${isSelected ? 'sel' : ''} ${isJoin ? 'join' : ''}`}
      style={{ width: cardWidth(design, table) }}
      onClick={onOpen}
      {...movedByKeys(onMove)}
      aria-label={`Table ${table.name}, ${count === '' ? 'no' : count} ${count === '1' ? 'record' : 'records'}`}
      aria-current={isSelected ? 'true' : undefined}
    >
      <Handle type="target" position={Position.Left} className="joint" />
      <span className="ch">
        <b className="el">{table.name}</b>
        <span>{count}</span>
      </span>
      <span className="cf">
        {shown.map((field) => (
          <span key={field.id} className={named.includes(field) ? 'key-field' : ''}>
            {field.kind === 'reference' ? <KindIcon kind="reference" /> : <i />}
            <span className="el">{field.name}</span>
          </span>
        ))}
        {more > 0 && (
          <span className="more">
            <i />
            and {more} more
          </span>
        )}
      </span>
      <Handle
        type="source"
        position={Position.Right}
        className="joint"
        isConnectable={canJoin}
        {...(canJoin ? { title: 'Draw a line to another table' } : {})}
      />
    </button>
  );
}
