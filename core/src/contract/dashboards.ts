import { z } from 'zod';
import { Id } from '../shapes/shapes.js';
import { Tile } from '../design/dashboard.js';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { PartSeen, QueryResult, shownNumber } from './queries.js';
import { ValueShape } from './records.js';
import { fromJson, route } from './route.js';

/** What a tile shows, as far as this person can see the records behind it. */
export const TileAnswer = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('figure'),
    /** Exact; null where there is no values yet. */
    value: z.string().nullable(),
    type: z.string(),
    ...shownNumber,
    /** From how many rows. */
    rows: z.number(),
    seen: PartSeen,
  }),
  z.object({
    kind: z.literal('series'),
    label: z.object({ name: z.string(), type: z.string(), ...shownNumber }),
    value: z.object({ name: z.string(), type: z.string(), ...shownNumber }),
    points: z.array(z.object({ label: ValueShape, value: z.string().nullable() })),
    /** How many points there are beyond those shown. */
    more: z.number(),
    seen: PartSeen,
  }),
]);
export type TileAnswer = z.infer<typeof TileAnswer>;

const dashboardParams = appParams.extend({ dashboard: Id });

export const readTile = route({
  method: 'GET',
  path: '/api/apps/:app/dashboards/:dashboard/tiles/:tile',
  access: 'member',
  heavy: true,
  params: dashboardParams.extend({ tile: Id }),
  query: nothingAsked,
  body: nothingAsked,
  answer: TileAnswer,
});
/** The records behind a tile, or behind one point of it. */
export const readBehind = route({
  method: 'GET',
  path: '/api/apps/:app/dashboards/:dashboard/tiles/:tile/records',
  access: 'member',
  heavy: true,
  params: dashboardParams.extend({ tile: Id }),
  query: z.object({
    /** The point's label as JSON, see `TileAnswer`; absent: every record of the tile. */
    label: fromJson(ValueShape).optional(),
    limit: z.coerce.number().int().min(1).max(500).default(200),
  }),
  body: nothingAsked,
  answer: QueryResult.extend({ table: z.string() }),
});
/** What a tile shows while it is still being made. */
export const tryTile = route({
  method: 'POST',
  path: '/api/apps/:app/try-tile',
  access: 'builder',
  heavy: true,
  params: appParams,
  query: nothingAsked,
  body: z.object({ tile: Tile }),
  answer: TileAnswer,
});
