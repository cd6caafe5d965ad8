import { z } from 'zod';
import { Id } from '../shapes/shapes.js';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { recordParams } from './records.js';
import { route } from './route.js';

/** Where a record has been: each status with when it came there, and by whom. */
const Walked = z.object({ status: z.string().nullable(), at: z.string(), by: z.string().nullable() });
export type Walked = z.infer<typeof Walked>;

const OfferedMove = z.object({
  id: z.string(),
  /** False: the record does not meet the guard of the move, which says so in words. */
  isOpen: z.boolean(),
  guard: z.string(),
});

/** The status of a record, where it has been, and the moves that this person can make with it. */
export const readMoves = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/records/:id/moves',
  access: 'member',
  params: recordParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ status: z.string().nullable(), walk: z.array(Walked), moves: z.array(OfferedMove) }),
});
export type MovesAnswer = z.infer<typeof readMoves.answer>;

const WaitingRecord = z.object({ id: z.number(), rev: z.number(), caption: z.string(), status: z.string(), moves: z.array(z.string()) });
/** The records that wait for this person: those that they can move on, by route. */
export const readWaiting = route({
  method: 'GET',
  path: '/api/apps/:app/waiting',
  access: 'member',
  params: appParams,
  /** `after`: only of that route, those that come after this record. */
  query: z.object({ route: Id.optional(), after: z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER).optional() }),
  body: nothingAsked,
  answer: z.object({
    routes: z.array(
      z.object({
        route: z.string(),
        records: z.array(WaitingRecord),
        /** There are more after these. */
        more: z.boolean(),
        /** How many wait in all; `atLeast`: no further was counted. */
        count: z.number(),
        atLeast: z.boolean(),
      }),
    ),
  }),
});
export type WaitingAnswer = z.infer<typeof readWaiting.answer>;

/** How many records are at each status of a route. */
export const countStatuses = route({
  method: 'GET',
  path: '/api/apps/:app/routes/:route/counts',
  access: 'builder',
  heavy: true,
  params: appParams.extend({ route: Id }),
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ counts: z.record(z.string(), z.number()) }),
});

/** A real record walked through its history, and of every person: could they move it on? */
export const walkRoute = route({
  method: 'GET',
  path: '/api/apps/:app/routes/:route/walk',
  access: 'builder',
  heavy: true,
  params: appParams.extend({ route: Id }),
  /** Without an id the record that was moved last. */
  query: z.object({ id: z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER).optional() }),
  body: nothingAsked,
  answer: z.object({
    /** Null: there is no record to walk. */
    record: z.object({ id: z.number(), caption: z.string(), status: z.string().nullable() }).nullable(),
    walk: z.array(Walked),
    people: z.array(
      z.object({
        id: z.number(),
        name: z.string(),
        roles: z.array(z.string()),
        /** The moves that they can make now. */
        moves: z.array(z.string()),
        why: z.enum(['can', 'not_seen', 'no_role', 'guard', 'end']),
      }),
    ),
  }),
});
export type WalkAnswer = z.infer<typeof walkRoute.answer>;
