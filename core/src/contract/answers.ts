/** What routes answer, as the types that server and web share. */
export type { AccessAnswer, AppPerson, AskedGrant, Invitation } from './access.js';
export type { ReportPages, ReportProof } from './reports.js';
export type { MovesAnswer, WaitingAnswer, WalkAnswer, Walked } from './workflow.js';
export type { Run, RunsAnswer, StepDone, TryAutomationAnswer } from './automations.js';
export type { Mail, MailAnswer, MailsAnswer } from './mails.js';
export type { TileAnswer } from './dashboards.js';
