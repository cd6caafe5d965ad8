import { z } from 'zod';
import { ImportPlan } from '../import/plan.js';
import { FileReading, ReadingChoice } from '../import/reading.js';
import { newKinds } from '../import/survey.js';
import { Unit } from '../values/units.js';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { route } from './route.js';

const importParams = appParams.extend({ import: z.uuid() });

const ColumnSurveyShape = z.object({
  name: z.string(),
  kind: z.enum(newKinds),
  reading: z.object({ numbers: z.enum(['point', 'comma', 'space_point', 'space_comma']), dates: z.enum(['ymd', 'dmy', 'mdy']) }),
  digits: z.number(),
  unit: Unit.nullable(),
  choices: z.array(z.string()).readonly(),
  filled: z.number(),
  rows: z.number(),
  samples: z.array(z.string()).readonly(),
  note: z.string().nullable(),
});
const RepeatedColumnShape = z.object({
  column: z.number(),
  differing: z.number(),
  names: z.array(z.object({ name: z.string(), values: z.array(z.object({ text: z.string(), rows: z.number(), line: z.number() })).readonly() })).readonly(),
});
const RepeatsShape = z.object({
  rows: z.number(),
  keys: z.array(z.number()).readonly(),
  things: z
    .array(
      z.object({
        key: z.number(),
        count: z.number(),
        rows: z.number(),
        columns: z.array(RepeatedColumnShape).readonly(),
        within: z.number().nullable(),
        follows: RepeatedColumnShape.nullable(),
      }),
    )
    .readonly(),
});
export const FileSurvey = z.object({
  reading: FileReading,
  /** The sheets of a workbook or the lists of a JSON file. */
  parts: z.array(z.string()).default([]),
  rows: z.number(),
  columns: z.array(ColumnSurveyShape),
  /** The first rows, as they are in the file. */
  sample: z.array(z.array(z.string())),
  /** What its rows say again and again. */
  repeats: RepeatsShape.default({ rows: 0, keys: [], things: [] }),
});
export type FileSurvey = z.infer<typeof FileSurvey>;

const ComplaintShape = z.object({ line: z.number(), column: z.string(), value: z.string(), reason: z.string() });

/** Records of another table that are made because rows refer to them, and what the first of them are called. */
const MadeRecords = z.object({ table: z.string(), count: z.number(), names: z.array(z.string()) });

/** What a plan would do, found out by doing it and leaving nothing of it. */
const ImportPreview = z.object({
  added: z.number(),
  changed: z.number(),
  unchanged: z.number(),
  /** Rows that match no record and are to add none. */
  leftOut: z.number(),
  /** Records that no row is about and that go, and what the first of them are called. */
  removed: z.number(),
  removedNames: z.array(z.string()),
  /** For each field that would change in how many records, and what the first of them have before and after. */
  fields: z.array(z.object({ field: z.string(), count: z.number(), examples: z.array(z.object({ line: z.number(), before: z.string(), after: z.string() })) })),
  made: z.array(MadeRecords),
  emptied: z.array(ComplaintShape),
  emptiedCount: z.number(),
  /** Cells that differ from what most rows say of the same thing, and that are not taken. */
  settled: z.array(ComplaintShape).default([]),
  settledCount: z.number().default(0),
});
export type ImportPreview = z.infer<typeof ImportPreview>;

const importStates = ['reading', 'read', 'running', 'done', 'refused', 'cancelled', 'failed', 'taken_back'] as const;
export const ImportAnswer = z.object({
  id: z.string(),
  fileName: z.string(),
  state: z.enum(importStates),
  /** 0 to 1: how much of the file has gone through. */
  progress: z.number(),
  survey: FileSurvey.nullable(),
  /** Rows added, when done. */
  added: z.number().nullable(),
  /** Records that rows name by their numbers, when done: those that differed and were changed, and those that did not. */
  changed: z.number(),
  unchanged: z.number(),
  /** Rows that matched no record and added none, and records that no row was about and that were removed, when done. */
  leftOut: z.number(),
  removed: z.number(),
  made: z.array(MadeRecords),
  table: z.string().nullable(),
  /** The first complaints, and how many there are. */
  complaints: z.array(ComplaintShape),
  complaintCount: z.number(),
  /** Why it failed or was refused, in words. */
  message: z.string().nullable(),
  /** What was decided for the latest run, so that a refusal loses none of it; before the first one: for the last file with the same columns. */
  plan: ImportPlan.nullable(),
  /** Whether it is only tried. */
  isTrial: z.boolean(),
  /** Of a plan that was tried; it is the plan above. */
  preview: ImportPreview.nullable(),
  /** Of an import that is done: the first cells that did not fit and were left empty, and how many there are. */
  emptied: z.array(ComplaintShape),
  emptiedCount: z.number(),
  settled: z.array(ComplaintShape),
  settledCount: z.number(),
  /** Records that stayed when the import was undone, because they were changed since. */
  stayed: z.number(),
});
export type ImportAnswer = z.infer<typeof ImportAnswer>;

export const uploadImport = route({
  method: 'POST',
  path: '/api/apps/:app/imports',
  access: 'builder',
  upload: true,
  params: appParams,
  query: z.object({ name: z.string().trim().min(1).max(200) }),
  body: nothingAsked,
  answer: ImportAnswer,
});
export const readImport = route({
  method: 'GET',
  path: '/api/apps/:app/imports/:import',
  access: 'builder',
  params: importParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: ImportAnswer,
});
/** Reads the file again in another way, as a person says it is written. */
export const surveyImport = route({
  method: 'POST',
  path: '/api/apps/:app/imports/:import/survey',
  access: 'builder',
  params: importParams,
  query: nothingAsked,
  body: z.object({ reading: ReadingChoice }),
  answer: ImportAnswer,
});
export const runImport = route({
  method: 'POST',
  path: '/api/apps/:app/imports/:import/run',
  access: 'builder',
  params: importParams,
  query: nothingAsked,
  /** `isTrial`: only to see what it would do. */
  body: z.object({ version: z.number().int().min(1), plan: ImportPlan, isTrial: z.boolean().default(false) }),
  answer: ImportAnswer,
});
export const cancelImport = route({
  method: 'POST',
  path: '/api/apps/:app/imports/:import/cancel',
  access: 'builder',
  params: importParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: ImportAnswer,
});
/** Removes the records that the import added, and undoes what it changed. When some were changed since it is refused, unless `others`: then those stay. */
export const takeBackImport = route({
  method: 'POST',
  path: '/api/apps/:app/imports/:import/take-back',
  access: 'builder',
  params: importParams,
  query: nothingAsked,
  body: z.object({ others: z.boolean().default(false) }),
  answer: ImportAnswer,
});
