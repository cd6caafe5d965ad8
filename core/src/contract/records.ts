import { z } from 'zod';
import { tones } from '../fields/choice.js';
import { ExportFormat } from '../export/formats.js';
import { Expression, Id } from '../shapes/shapes.js';
import { Cursor, Scalar } from '../query/query.js';
import { appParams } from './apps.js';
import { nothingAsked, PersonId } from './people.js';
import { fromJson, route } from './route.js';
import { searched, SearchText, Selection } from './selection.js';

const tableParams = appParams.extend({ table: Id });
export const RecordId = z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER);
export const recordParams = tableParams.extend({ id: RecordId });

const CursorShape = Cursor.unwrap().extend({ id: z.number().int().min(0).max(Number.MAX_SAFE_INTEGER) });

export const ValueShape = z.union([z.string(), z.number(), z.boolean(), z.null(), z.object({ id: z.number(), caption: z.string() })]);
const RecordShape = z.object({
  id: z.number(),
  rev: z.number(),
  /** By field; in a list also, by the relationship, the names of what belongs to the record by a link. */
  values: z.record(z.string(), ValueShape),
  /** In a list: the colour that it has there, and what that says. */
  tone: z.object({ tone: z.enum(tones), name: z.string() }).optional(),
  /** Fields whose texts are shortened here. They can only be edited where the record is opened. */
  cut: z.array(z.string()).optional(),
});
export type RecordAnswer = z.infer<typeof RecordShape>;

export const readPage = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/page',
  access: 'member',
  params: tableParams,
  query: Selection.extend({ after: fromJson(CursorShape).optional(), limit: z.coerce.number().int().min(1).max(500).default(100) }),
  body: nothingAsked,
  /** `next` is null on the last page. */
  answer: z.object({ records: z.array(RecordShape), next: CursorShape.nullable() }),
});
/** A place further on in a list, for going there without reading what is between. */
export const readPlace = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/place',
  access: 'member',
  params: tableParams,
  query: Selection.extend({ after: fromJson(CursorShape).optional(), skip: z.coerce.number().int().min(1).max(20_000) }),
  body: nothingAsked,
  /** `skipped` is less than was asked for where the list ends before. `next` is the place after so many records; null where there are none. */
  answer: z.object({ skipped: z.number(), next: CursorShape.nullable() }),
});
/** More are not picked out of a list by their ids: the address would be too long. */
export const mostPicked = 1000;
/** `only`: of the records of a list these; else all that it shows. */
const PickedSelection = Selection.extend({ only: fromJson(z.array(RecordId).min(1).max(mostPicked)).optional() });
/** Fields of the table in this order, other than all that it has. */
const columns = fromJson(z.array(Id).min(1).max(500)).optional();
/** The records of a list as a file, as far as this person can export them. */
export const exportRecords = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/export',
  access: 'member',
  heavy: true,
  params: tableParams,
  query: PickedSelection.extend({ format: ExportFormat, columns }),
  body: nothingAsked,
  answer: z.unknown(),
});
/** The same on paper, as a PDF, with the sums of the list below them. */
export const printRecords = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/pdf',
  access: 'member',
  heavy: true,
  params: tableParams,
  /** `columns`: other fields than those of the list. */
  query: PickedSelection.extend({ columns }),
  body: nothingAsked,
  answer: z.unknown(),
});
export const countPage = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/count',
  access: 'member',
  params: tableParams,
  query: Selection.extend({ exact: z.enum(['yes', 'no']).default('no') }),
  body: nothingAsked,
  /** `atLeast`: there are more than counted. */
  answer: z.object({ count: z.number(), atLeast: z.boolean() }),
});

/** Values of fields as a list groups and counts them, how many records have them, and the sums of the fields that the list sums. */
const GroupShape = z.object({ values: z.array(ValueShape), count: z.number(), sums: z.array(z.string().nullable()) });
export type GroupAnswer = z.infer<typeof GroupShape>;
/** `by` and `sums`: which fields or columns they are of. */
export const GroupLevels = z.object({
  by: z.array(z.string()),
  sums: z.array(z.string()),
  levels: z.array(z.object({ groups: z.array(GroupShape), /** There are more groups than these. */ more: z.boolean() })),
});
export type GroupLevels = z.infer<typeof GroupLevels>;
/** The groups of a list with their sums, level by level: first all records, then by the first field, then by the first two, and so on. */
export const readGroups = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/groups',
  access: 'member',
  heavy: true,
  params: tableParams,
  query: Selection,
  body: nothingAsked,
  answer: GroupLevels,
});
/** For each quick filter of a list its most frequent values, counted among the records that the other filters leave. */
export const readQuickFilters = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/quick-filters',
  access: 'member',
  heavy: true,
  params: tableParams,
  query: Selection,
  body: nothingAsked,
  answer: z.object({
    filters: z.array(z.object({ field: z.string(), values: z.array(z.object({ value: ValueShape, count: z.number() })), more: z.boolean() })),
  }),
});

const Children = z.object({ relationship: z.string(), records: z.array(RecordShape), more: z.boolean() });
export const readRecord = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/records/:id',
  access: 'member',
  params: recordParams,
  /** `form`: whose children are read; else the one in which the table opens. `children`: whether any are. */
  query: z.object({ form: Id.optional(), children: z.enum(['yes', 'no']).default('yes') }),
  body: nothingAsked,
  answer: z.object({
    caption: z.string(),
    record: RecordShape,
    children: z.array(Children),
    /** What this person can do with this record, where grants depend on what is in it; absent: what they can do with its table. */
    may: z.object({ change: z.boolean(), remove: z.boolean() }).optional(),
  }),
});
export type OpenRecord = z.infer<typeof readRecord.answer>;
/** The record that this person added last, as far as forms begin with its values: those of fields that begin with what was entered last. */
export const readLast = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/last',
  access: 'member',
  params: tableParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ values: z.record(z.string(), ValueShape) }),
});
export const readNeighbours = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/records/:id/neighbours',
  access: 'member',
  params: recordParams,
  query: Selection,
  body: nothingAsked,
  answer: z.object({ previous: z.number().nullable(), next: z.number().nullable() }),
});

export const HistoryEntry = z.object({
  id: z.number(),
  at: z.string(),
  kind: z.enum(['add', 'change', 'remove', 'import', 'restore']),
  person: z.string().nullable(),
  /** The save that it belongs to; null when it is not this person's to take back. */
  save: z.string().nullable(),
  /** An automation did it, triggered by what this person did. */
  automatic: z.boolean(),
  /** `beforeHidden`: this person can't see the earlier value. */
  changes: z.array(z.object({ field: z.string(), before: ValueShape, after: ValueShape, beforeHidden: z.boolean() })),
});
export type HistoryEntry = z.infer<typeof HistoryEntry>;
/** What happened to a child of the record. */
export const ChildEntry = HistoryEntry.extend({ relationship: z.string(), record: z.number(), caption: z.string() });
export type ChildEntry = z.infer<typeof ChildEntry>;
export const readHistory = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/records/:id/history',
  access: 'member',
  params: recordParams,
  query: nothingAsked,
  body: nothingAsked,
  /** `children`: of the children in its form, in the same order. */
  answer: z.object({ entries: z.array(HistoryEntry), children: z.array(ChildEntry) }),
});

/** Records that were removed and have not come back, the latest first: to a member those that they removed themselves. */
export const readRemoved = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/removed',
  access: 'member',
  params: tableParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({
    removed: z.array(z.object({ id: z.number(), at: z.string(), person: z.string().nullable(), save: z.string(), values: z.record(z.string(), ValueShape) })),
    /** There are more than are told of. */
    more: z.boolean(),
  }),
});
export type Removed = z.infer<typeof readRemoved.answer>['removed'][number];

/** `values`: of the fields that are shown beside what it is called. */
const Picked = z.object({ id: z.number(), caption: z.string(), values: z.record(z.string(), ValueShape).optional() });
export const lookUp = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/lookup',
  access: 'member',
  params: tableParams,
  query: z.object({ text: SearchText }),
  body: nothingAsked,
  answer: z.object({ records: z.array(Picked) }),
});

/** Records of a list with their places, the nearest to a point first; without a point the newest. */
export const readNearest = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/fields/:field/nearest',
  access: 'member',
  heavy: true,
  params: tableParams.extend({ field: Id }),
  query: z.object({ latitude: z.coerce.number().min(-90).max(90).optional(), longitude: z.coerce.number().min(-180).max(180).optional() }),
  body: nothingAsked,
  answer: z.object({ records: z.array(z.object({ id: z.number(), caption: z.string(), place: z.string() })) }),
});

/** The people of the app, for fields that hold one. Only people who can fill such a field get them. */
export const lookUpPeople = route({
  method: 'GET',
  path: '/api/apps/:app/lookup/people',
  access: 'member',
  params: appParams,
  query: z.object({ text: SearchText }),
  body: nothingAsked,
  answer: z.object({ people: z.array(z.object({ name: z.string(), mail: z.string() })) }),
});

export const FieldStatistics = z.object({
  field: z.string(),
  rows: z.number(),
  filled: z.number(),
  distinct: z.number(),
  low: z.string().nullable(),
  high: z.string().nullable(),
  /** Numbers and dates: how many fall into each of equal stretches from low to high. Else: the most frequent values' counts. */
  spread: z.array(z.number()),
});
export type FieldStatistics = z.infer<typeof FieldStatistics>;
/** What an expression gives for real records, while it is written. */
export const tryExpression = route({
  method: 'POST',
  path: '/api/apps/:app/tables/:table/try',
  access: 'builder',
  heavy: true,
  params: tableParams,
  query: nothingAsked,
  /** `person`: computed for one of the people of the app, whose `me` it is; else for the person who asks. */
  body: z.object({ expression: Expression, person: PersonId.optional() }),
  answer: z.object({
    rows: z.array(z.object({ id: z.number(), caption: z.string(), value: z.string().nullable() })),
    /** For a condition: of how many records it is true, and how many there are; counted no further than `countedTo`. */
    met: z.number().nullable(),
    of: z.number(),
    countedTo: z.number(),
  }),
});
export const readStatistics = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/statistics',
  access: 'member',
  heavy: true,
  params: tableParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ fields: z.array(FieldStatistics), /** True when only a part of the records was read. */ sampled: z.boolean() }),
});

/** What the newest records of a table repeat: what could be a table of its own, or belong to the records that they refer to. */
export const readRepeats = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/repeats',
  access: 'builder',
  heavy: true,
  params: tableParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({
    /** So many records were looked at. */
    looked: z.number(),
    repeats: z.array(z.object({ field: z.string(), values: z.number(), records: z.number(), carried: z.array(z.string()).readonly() })),
  }),
});

/** The most frequent values of a text field, without the spaces around them and whatever their case: what its choices could be. */
export const readFrequent = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/fields/:field/frequent',
  access: 'builder',
  heavy: true,
  params: tableParams.extend({ field: Id }),
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ values: z.array(z.string()), /** True when there are more than these. */ more: z.boolean() }),
});

export const searchRecords = route({
  method: 'GET',
  path: '/api/apps/:app/search',
  access: 'member',
  heavy: true,
  params: appParams,
  /** `from`: go on where an earlier answer left off. */
  query: z.object({ text: z.string().min(1).transform(searched), from: z.coerce.number().int().min(0).max(10_000).default(0) }),
  body: nothingAsked,
  answer: z.object({
    found: z.array(z.object({ table: z.string(), id: z.number(), caption: z.string() })),
    /** Null: every table has been looked through, or enough was found. */
    next: z.number().nullable(),
    /** Tables that took too long, by name. */
    left: z.array(z.string()),
  }),
});

/** A value to write. A reference is the id of its record, or names a record that the same save adds. */
export const WrittenValue = z.union([Scalar.or(z.string().max(1_000_000)), z.object({ added: z.string().max(60) })]);
export type WrittenValue = z.infer<typeof WrittenValue>;
const WrittenValues = z.record(Id, WrittenValue);
const Rev = z.number().int().min(1).max(2_147_483_647);
const WrittenId = z.number().int().min(1).max(Number.MAX_SAFE_INTEGER);
export const Write = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('add'), table: Id, /** Names the new record within this save. */ as: z.string().min(1).max(60), values: WrittenValues }),
  z.object({ kind: z.literal('change'), table: Id, id: WrittenId, rev: Rev, values: WrittenValues }),
  z.object({ kind: z.literal('remove'), table: Id, id: WrittenId, rev: Rev }),
  /** Along its route. */
  z.object({ kind: z.literal('move'), table: Id, id: WrittenId, rev: Rev, move: Id }),
  /** Starts an automation for it: what it does is part of the save. */
  z.object({ kind: z.literal('start'), table: Id, id: WrittenId, rev: Rev, automation: Id }),
]);
export type Write = z.infer<typeof Write>;
/** A write that says what fields are to hold. */
export type ValueWrite = Extract<Write, { values: unknown }>;
export const givesValues = (write: Write): write is ValueWrite => 'values' in write;

/** How many records one save can write. */
export const mostWrites = 2000;

export const saveRecords = route({
  method: 'POST',
  path: '/api/apps/:app/save',
  access: 'member',
  params: appParams,
  query: nothingAsked,
  /** `key` makes a save that is sent twice one save. */
  body: z.object({ key: z.uuid(), writes: z.array(Write).min(1).max(mostWrites) }),
  answer: z.object({ records: z.array(z.object({ write: z.number(), table: z.string(), id: z.number(), rev: z.number() })) }),
});
export type SaveAnswer = z.infer<typeof saveRecords.answer>;

/** Takes back all that a save has done, also what automations did by its doing; what has been changed since stays, and refuses it. */
export const takeBackSave = route({
  method: 'POST',
  path: '/api/apps/:app/saves/:save/take-back',
  access: 'member',
  params: appParams.extend({ save: z.uuid() }),
  query: nothingAsked,
  /** `dry`: says what would be done and does nothing. `key` makes a request that is sent twice one. */
  body: z.object({ key: z.uuid(), dry: z.boolean() }),
  answer: z.object({
    effects: z.array(
      z.object({
        kind: z.enum(['restore', 'change', 'remove']),
        table: z.string(),
        id: z.number(),
        /** Null: it is not this person's to see. */ caption: z.string().nullable(),
      }),
    ),
    /** Automations mail when such records change: a mail that went out stays sent. */
    mails: z.boolean(),
  }),
});
export type TakenBack = z.infer<typeof takeBackSave.answer>;

/** In the details of a `conflict`: what is in the database where a write expected an older version. */
export const Conflict = z.object({
  write: z.number(),
  /** Null: the record is gone. */ current: RecordShape.nullable(),
  by: z.string().nullable(),
  at: z.string().nullable(),
});
export type Conflict = z.infer<typeof Conflict>;
