import { z } from 'zod';
import { Automation } from '../design/automation.js';
import { Id } from '../shapes/shapes.js';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { RecordId, ValueShape } from './records.js';
import { route } from './route.js';

const FieldDone = z.object({
  field: z.string(),
  /** What the field was called then. */
  name: z.string(),
  before: ValueShape,
  /** A record without a caption is the one that set the automation off. */
  after: ValueShape,
});

/** What a step did, or what it would do. */
const StepDone = z.discriminatedUnion('kind', [
  /** Without fields: they held these values already. */
  z.object({ kind: z.literal('change'), table: z.string(), record: z.number(), fields: z.array(FieldDone) }),
  z.object({ kind: z.literal('add'), table: z.string(), record: z.number(), fields: z.array(FieldDone) }),
  z.object({
    kind: z.literal('mail'),
    to: z.array(z.string()),
    /** What stood where an address should, and is none. */
    noAddress: z.array(z.string()),
    /** People of the app who can't see the record, and so get no mail about it. */
    unseen: z.array(z.string()),
    subject: z.string(),
    /** Only of a dry run: what was sent is kept with the mail. Each is what its readers can see of the record. */
    letters: z.array(z.object({ to: z.array(z.string()), subject: z.string(), body: z.string() })).optional(),
  }),
]);
export type StepDone = z.infer<typeof StepDone>;

const Run = z.object({
  id: z.string(),
  at: z.string(),
  /** Who triggered it; null: someone who no longer exists. */
  by: z.string().nullable(),
  table: z.string(),
  record: z.object({ id: z.number(), /** Null: it is gone, or never came to be. */ caption: z.string().nullable() }),
  steps: z.array(StepDone),
  /** Why it could not be done; then nothing of the save was done either. */
  error: z.string().nullable(),
  mails: z.array(z.object({ id: z.string(), to: z.string(), state: z.enum(['waiting', 'sent', 'kept', 'failed']) })),
});
export type Run = z.infer<typeof Run>;

/** What an automation has done, the latest first. */
export const readRuns = route({
  method: 'GET',
  path: '/api/apps/:app/automations/:automation/runs',
  access: 'builder',
  params: appParams.extend({ automation: Id }),
  /** `before`: only those that are behind this one. */
  query: z.object({ before: z.uuid().optional() }),
  body: nothingAsked,
  answer: z.object({ runs: z.array(Run), more: z.boolean() }),
});
export type RunsAnswer = z.infer<typeof readRuns.answer>;

/** Runs an automation for real, as it is being written, and undoes it. */
export const tryAutomation = route({
  method: 'POST',
  path: '/api/apps/:app/automations/try',
  access: 'builder',
  heavy: true,
  params: appParams,
  query: nothingAsked,
  /** Without an id for the record that was added last. */
  body: z.object({ automation: Automation, id: RecordId.optional() }),
  answer: z.object({
    /** Null: there is no record to run it for. */
    record: z.object({ id: z.number(), caption: z.string() }).nullable(),
    /** Whether the record meets the condition. */
    isMet: z.boolean(),
    steps: z.array(StepDone),
    /** What the step after them cannot do. */
    error: z.string().nullable(),
    /** The names of automations that its steps would trigger. */
    sets: z.array(z.string()),
  }),
});
export type TryAutomationAnswer = z.infer<typeof tryAutomation.answer>;
