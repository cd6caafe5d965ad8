/** Where builders have put tables and notes in the diagram. It is no part of the design: moving a table changes no app. */
import { z } from 'zod';
import { Id } from '../shapes/shapes.js';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { route } from './route.js';

/** How far from the origin a table can be put, in pixels. */
const farthest = 100_000;
const Coordinate = z.number().int().min(-farthest).max(farthest);
/** The upper left corner of a table or note in the diagram, in pixels. */
export const Placed = z.object({ x: Coordinate, y: Coordinate });
export type Placed = z.infer<typeof Placed>;

/** The tables and notes that have a place of their own, by their ids; the others are placed by what they are related to. */
export const readPlacement = route({
  method: 'GET',
  path: '/api/apps/:app/placement',
  access: 'builder',
  params: appParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ places: z.record(z.string(), Placed) }),
});

/** Puts tables and notes where they are named; null takes the place of their own from them. */
export const placeTables = route({
  method: 'POST',
  path: '/api/apps/:app/placement',
  access: 'builder',
  params: appParams,
  query: nothingAsked,
  body: z.object({ places: z.record(Id, Placed.nullable()).refine((places) => Object.keys(places).length <= 1000, 'At most 1,000 tables at a time') }),
  answer: z.object({}),
});
