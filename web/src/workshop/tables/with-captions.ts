import { captionFields, type AppDesign } from '@bibliona/core';
import type { DrawnDesign } from './drawn-design.js';

/** A design that the server has not told the captions of, as the diagram draws it. */
export const withCaptions = (design: AppDesign): DrawnDesign => ({
  ...design,
  captions: Object.fromEntries(design.tables.map((table) => [table.id, captionFields(design, table).map((field) => field.id)])),
});
