import type { AppDesign, Field, Table } from '@bibliona/core';
import type { AppInHand } from '../../state/app.js';

/** A design as the diagram draws it: with the fields by which the records of each table are called. Finding these takes the language. */
export interface DrawnDesign extends AppDesign {
  readonly captions: Readonly<Record<string, readonly string[]>>;
}

export const drawnOf = ({ design, captions }: AppInHand): DrawnDesign => ({ ...design, captions });

/** The fields by which the records of a table are called, in their order in it. */
export const namedIn = ({ captions }: DrawnDesign, table: Table): readonly Field[] => {
  const named = captions[table.id] ?? [];
  return table.fields.filter((field) => named.includes(field.id));
};
