import type { Node, NodeProps } from '@xyflow/react';
import type { Tone } from '@bibliona/core';
import { movedByKeys } from './diagram-keys.js';
import type { Point } from './diagram-layout.js';

export type SectionNode = Node<
  {
    readonly name: string;
    readonly tone: Tone;
    readonly onOpen: (() => void) | undefined;
    /** Moves all of its tables. */
    readonly onMove: ((by: Point) => void) | undefined;
  },
  'section'
>;

/** The class of what is taken hold of to move a section: within its frame the sheet itself is moved. */
export const sectionHandle = 'section-name';

/** The tables of one section of the shelf, framed together. */
export function SectionFrame({ data: { name, tone, onOpen, onMove } }: NodeProps<SectionNode>) {
  return (
    <div className={`section-frame tint-${tone}`}>
      {onOpen === undefined ? (
        <span className={sectionHandle}>{name}</span>
      ) : (
        <button type="button" className={sectionHandle} onClick={onOpen} aria-label={`Section ${name}`} {...movedByKeys(onMove)}>
          {name}
        </button>
      )}
    </div>
  );
}
