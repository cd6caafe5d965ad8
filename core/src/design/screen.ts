import { z } from 'zod';
import { Id, Label } from '../shapes/shapes.js';

/** What tells several forms or lists of one table apart. */
export const screen = {
  id: Id,
  table: Id,
  name: Label,
  /** Who works with it; empty: everybody who may. */
  roles: z.array(Id).max(100).readonly().default([]),
  /** The one that opens where none is named: for its roles, or for everybody. */
  isDefault: z.boolean().default(false),
};
