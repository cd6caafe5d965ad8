import { z } from 'zod';
import { memberships } from '../access/membership.js';
import { DesignChange } from '../parts/design-change.js';
import { DesignDifference } from '../parts/difference.js';
import { Id, Label } from '../shapes/shapes.js';
import { AppDesignShape } from '../design/design.js';
import { Page } from '../design/page.js';
import { Rearrangement } from '../rearrange/plans.js';
import { nothingAsked } from './people.js';
import { route } from './route.js';
import { KeptList } from './selection.js';

const AppId = z.string().regex(/^[a-z0-9_]{1,60}$/);
export const appParams = z.object({ app: AppId });
/** An open screen of a browser. */
const Tab = z.string().min(1).max(60);

export const AppSummary = z.object({
  id: z.string(),
  name: z.string(),
  role: z.enum(memberships),
  /** How many there are; null for members, who might not see all of them. */
  tables: z.number().nullable(),
});
export type AppSummary = z.infer<typeof AppSummary>;

export const OpenApp = z.object({
  id: z.string(),
  role: z.enum(memberships),
  /** What the person can do with each table at all, by its id. */
  rights: z.record(
    z.string(),
    z.object({
      see: z.boolean(),
      add: z.boolean(),
      change: z.boolean(),
      remove: z.boolean(),
      export: z.boolean(),
      hidden: z.array(z.string()).readonly(),
      locked: z.array(z.string()).readonly(),
      /** Formulas that count only what the person can see. */
      partial: z.array(z.string()).readonly(),
    }),
  ),
  /** What expressions know of the person: what is behind `me.`, and the records they are tied to, by the id of the tie. */
  me: z.object({ Name: z.string(), Mail: z.string(), Roles: z.array(z.string()) }),
  ties: z.record(z.string(), z.number()),
  /** The columns that they chose for lists, by the id of the list. */
  views: z.record(z.string(), z.array(z.object({ field: z.string(), width: z.number().nullable() }))),
  /** Lists that they keep for themselves, in the order in which they were made. */
  ownLists: z.array(z.object({ id: z.string(), name: z.string(), of: KeptList })),
  /** The type of what each formula gives, by the id of its field. */
  formulas: z.record(z.string(), z.string()),
  /** The fields by which records are called, by the id of their table. */
  captions: z.record(z.string(), z.array(z.string())),
  /** The menu of their Desk, in its order. */
  menu: z.array(Page),
  /** Whether some move of a route is theirs to make: then records can wait for them. */
  moves: z.boolean(),
  version: z.number(),
  design: AppDesignShape,
  /** What undo and redo would take back or do again, or null. */
  undo: z.string().nullable(),
  redo: z.string().nullable(),
});
export type OpenApp = z.infer<typeof OpenApp>;

/** A record that can be opened, with what it is called. */
const NamedRecord = z.object({ table: z.string(), id: z.number(), caption: z.string() });
export type NamedRecord = z.infer<typeof NamedRecord>;
export const StepAnswer = z.object({
  effect: z.enum(['free', 'look', 'loses']),
  description: z.string(),
  found: z.string().nullable(),
  blocks: z.boolean(),
  /** Some of the records that it is found in. */
  records: z.array(NamedRecord).readonly(),
});
export type StepAnswer = z.infer<typeof StepAnswer>;

const Version = z.number().int().min(1).max(2_147_483_647);

export const listApps = route({
  method: 'GET',
  path: '/api/apps',
  access: 'person',
  params: nothingAsked,
  query: nothingAsked,
  body: nothingAsked,
  /** `mayMake`: whether this person can make apps. */
  answer: z.object({ apps: z.array(AppSummary), mayMake: z.boolean() }),
});
export const makeApp = route({
  method: 'POST',
  path: '/api/apps',
  access: 'person',
  params: nothingAsked,
  query: nothingAsked,
  body: z.object({
    name: Label,
    /** Where the app is at home; else UTC. */ timeZone: AppDesignShape.unwrap().shape.timeZone,
    region: AppDesignShape.unwrap().shape.region,
  }),
  answer: OpenApp,
});
/** The designs that an empty app can start with. */
export const listStarters = route({
  method: 'GET',
  path: '/api/starters',
  access: 'person',
  params: nothingAsked,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ starters: z.array(z.object({ id: z.string(), name: z.string(), description: z.string() })) }),
});
/** Gives an empty app the design and the records of a starter. */
export const useStarter = route({
  method: 'POST',
  path: '/api/apps/:app/starter',
  access: 'builder',
  heavy: true,
  params: appParams,
  query: nothingAsked,
  body: z.object({ version: Version, starter: Id }),
  answer: OpenApp,
});
export const openApp = route({
  method: 'GET',
  path: '/api/apps/:app',
  access: 'member',
  params: appParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: OpenApp,
});
/** How many records each table has, counted no further than `countedTo`. */
export const countRecords = route({
  method: 'GET',
  path: '/api/apps/:app/counts',
  access: 'member',
  params: appParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ counts: z.record(z.string(), z.number()), countedTo: z.number() }),
});
export const previewChanges = route({
  method: 'POST',
  path: '/api/apps/:app/preview',
  access: 'builder',
  heavy: true,
  params: appParams,
  query: nothingAsked,
  body: z.object({ version: Version, changes: z.array(DesignChange).min(1).max(200) }),
  answer: z.object({ steps: z.array(StepAnswer) }),
});
export const changeDesign = route({
  method: 'POST',
  path: '/api/apps/:app/changes',
  access: 'builder',
  heavy: true,
  params: appParams,
  query: nothingAsked,
  /** `acceptLoss`: the person has seen what would be set aside and wants it. Without it such a change is refused. */
  body: z.object({ version: Version, changes: z.array(DesignChange).min(1).max(200), acceptLoss: z.boolean().default(false) }),
  answer: OpenApp,
});
/** How far a change is that takes a while. `step` of `of` statements; 0: it looks at the records, or waits. */
export const readChangeUnderWay = route({
  method: 'GET',
  path: '/api/apps/:app/changes/under-way',
  access: 'builder',
  params: appParams,
  query: z.object({ tab: Tab }),
  body: nothingAsked,
  /**
   * Null: none is under way. `isMine`: it was asked for by this open screen; another one has to be waited for. `doing`: new values
   * are prepared beside what others do, or it waits for tables that others work with, or it changes these.
   */
  answer: z.object({
    underWay: z
      .object({ step: z.number(), of: z.number(), seconds: z.number(), isMine: z.boolean(), doing: z.enum(['preparing', 'waiting', 'changing']) })
      .nullable(),
  }),
});
/** Stops the change that this open screen has asked for: none of it is made. */
export const stopChange = route({
  method: 'POST',
  path: '/api/apps/:app/changes/stop',
  access: 'builder',
  params: appParams,
  query: nothingAsked,
  body: z.object({ tab: Tab }),
  answer: z.object({}),
});
export const undoDesign = route({
  method: 'POST',
  path: '/api/apps/:app/undo',
  access: 'builder',
  heavy: true,
  params: appParams,
  query: nothingAsked,
  body: z.object({ version: Version, direction: z.enum(['undo', 'redo']), acceptLoss: z.boolean().default(false) }),
  answer: OpenApp,
});
/** What the design is to become as a whole: what it was in an earlier version, what a file says, or what is there in another arrangement. */
const DesignTarget = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('version'), version: Version }),
  /** Its shape is checked with the design: what is wrong is then told where it is. */
  z.object({ kind: z.literal('file'), design: z.unknown(), name: z.string().max(200) }),
  z.object({ kind: z.literal('rearranged'), plan: Rearrangement }),
]);
export type DesignTarget = z.infer<typeof DesignTarget>;
/** What restoring an earlier version of the design, taking one from a file, or rearranging it would do. */
export const previewRestore = route({
  method: 'POST',
  path: '/api/apps/:app/restore-preview',
  access: 'builder',
  heavy: true,
  params: appParams,
  query: nothingAsked,
  body: z.object({ version: Version, to: DesignTarget }),
  /** `steps`: what it does to records. */
  answer: z.object({ differences: z.array(DesignDifference), steps: z.array(StepAnswer) }),
});
/** Makes an earlier version of the design, one from a file, or a rearranged one the newest one. */
export const restoreDesign = route({
  method: 'POST',
  path: '/api/apps/:app/restore',
  access: 'builder',
  heavy: true,
  params: appParams,
  query: nothingAsked,
  body: z.object({ version: Version, to: DesignTarget, acceptLoss: z.boolean().default(false) }),
  answer: OpenApp,
});
/** What is different in a later version than in an earlier one. */
export const compareVersions = route({
  method: 'GET',
  path: '/api/apps/:app/compare',
  access: 'builder',
  params: appParams,
  query: z.object({ from: z.coerce.number().pipe(Version), to: z.coerce.number().pipe(Version) }),
  body: nothingAsked,
  answer: z.object({ differences: z.array(DesignDifference) }),
});
export const LogEntry = z.object({ version: z.number(), at: z.string(), person: z.string(), description: z.string() });
export type LogEntry = z.infer<typeof LogEntry>;
export const designLog = route({
  method: 'GET',
  path: '/api/apps/:app/log',
  access: 'builder',
  params: appParams,
  /** Those before a version; else the newest ones. */
  query: z.object({ before: z.coerce.number().pipe(Version).optional() }),
  body: nothingAsked,
  /** `more`: whether there are earlier ones. */
  answer: z.object({ entries: z.array(LogEntry), more: z.boolean() }),
});
