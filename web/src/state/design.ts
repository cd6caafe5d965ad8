import {
  contract,
  type DesignChange,
  type DesignDifference,
  type DesignTarget,
  type NamedRecord,
  type OpenApp,
  type StepAnswer,
  type VersionRow,
} from '@bibliona/core';
import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { create } from 'zustand';
import { ApiRefusal, call, messageOf } from './api.js';
import { useApp, type AppInHand } from './app.js';
import { keys } from './keys.js';

/** What the person has to decide or know about the last change of the design. */
export type DesignNotice =
  | { readonly kind: 'none' }
  | { readonly kind: 'message'; readonly text: string; readonly isGood: boolean; readonly undo?: () => void }
  /** Somebody else has changed the same part: their version or this one. */
  | { readonly kind: 'overtaken'; readonly text: string; readonly versions: readonly VersionRow[]; readonly answer: (mine: boolean) => void }
  | { readonly kind: 'consent'; readonly question: Question; readonly steps: readonly StepAnswer[]; readonly answer: (accepted: boolean) => void };

/** What is asked before a change that changes other parts too. */
interface Question {
  readonly title: string;
  /** What becomes of other parts. */
  readonly besides: readonly DesignDifference[];
}

export const useDesignNotice = create<{ notice: DesignNotice; say: (notice: DesignNotice) => void }>((set) => ({
  notice: { kind: 'none' },
  say: (notice) => set({ notice }),
}));

/** What the change that takes a while is called; null: none does. */
export const useChangeUnderWay = create<{ readonly title: string | null }>(() => ({ title: null }));
/** In milliseconds: what takes longer is shown. */
const patience = 1000;

/** Makes a change, and shows that it is under way where it takes a while. */
async function making<T>(title: string, ask: () => Promise<T>): Promise<T> {
  const timer = setTimeout(() => useChangeUnderWay.setState({ title: title.replace(/\?$/u, '') }), patience);
  try {
    return await ask();
  } finally {
    clearTimeout(timer);
    useChangeUnderWay.setState({ title: null });
  }
}

/** Why a change was not made, for the place where it was asked for. */
export interface NotMade {
  readonly text: string;
  /** What has a name that something else has already: a kind of part; null: it is something else. */
  readonly nameTaken: string | null;
  /** Records that are in its way. */
  readonly records: readonly NamedRecord[];
}
/** True when the change was made. */
export type ChangeOutcome = true | NotMade;

function notMade(error: unknown): NotMade {
  const taken = error instanceof ApiRefusal ? error.issues.find((issue) => issue.code === 'name_taken') : undefined;
  const steps = error instanceof ApiRefusal && error.answer.code === 'invalid' ? (error.answer.details?.steps ?? []) : [];
  return { text: messageOf(error), nameTaken: taken?.what ?? null, records: steps.filter((step) => step.blocks).flatMap((step) => step.records) };
}

const declined: NotMade = { text: 'Nothing was changed.', nameTaken: null, records: [] };

async function isAccepted(question: Question, steps: readonly StepAnswer[]): Promise<boolean> {
  const { say } = useDesignNotice.getState();
  const accepted = await new Promise<boolean>((resolve) => say({ kind: 'consent', question, steps, answer: resolve }));
  say({ kind: 'none' });
  return accepted;
}

/** What is known of a change whose part somebody else has changed; asked once the design has been read anew. */
interface Overtaken {
  /** What was to be removed is gone. */
  readonly isDone: () => boolean;
  /** Where the versions differ between which the person can choose. */
  readonly versions: () => readonly VersionRow[];
}

async function attempt(
  client: QueryClient,
  id: string,
  question: Question,
  ask: (acceptLoss: boolean) => Promise<OpenApp>,
  overtaken: Overtaken | null = null,
): Promise<ChangeOutcome> {
  const { say } = useDesignNotice.getState();
  const done = (open: OpenApp): true => {
    client.setQueryData(keys.app(id), open);
    void client.invalidateQueries({ queryKey: keys.app(id), predicate: (query) => query.queryKey.length > 2 });
    say({ kind: 'none' });
    return true;
  };
  const doneByOthers = (): true => {
    say({ kind: 'message', text: 'Someone else has just removed it.', isGood: true });
    return true;
  };
  // While a question was open, others worked on.
  if (overtaken?.isDone() === true) return doneByOthers();
  try {
    return done(await making(question.title, () => ask(false)));
  } catch (error) {
    if (!(error instanceof ApiRefusal)) return notMade(error);
    if (error.code === 'stale_design') {
      await client.invalidateQueries({ queryKey: keys.app(id) });
      if (overtaken === null) {
        say({ kind: 'message', text: error.message, isGood: false });
        return notMade(error);
      }
      if (overtaken.isDone()) return doneByOthers();
      const mine = await new Promise<boolean>((resolve) => say({ kind: 'overtaken', text: error.message, versions: overtaken.versions(), answer: resolve }));
      say({ kind: 'none' });
      // What is asked again is asked of the design as it has been read anew.
      return mine ? attempt(client, id, question, ask) : notMade(error);
    }
    const refused = error.answer;
    if (refused.code !== 'needs_consent') return notMade(error);
    if (!(await isAccepted(question, refused.details?.steps ?? []))) return declined;
    try {
      return done(await making(question.title, () => ask(true)));
    } catch (again) {
      return notMade(again);
    }
  }
}

// A change asked for while another is on its way is made on what that one leaves: Ctrl+Z right after a click undoes the click.
let last: Promise<unknown> = Promise.resolve();
function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const mine = last.then(work);
  last = mine.catch(() => undefined);
  return mine;
}

/** What changes would do to records; null: they can't be made, which is told where they are asked for. */
async function stepsOf({ id, version }: AppInHand, changes: readonly DesignChange[]): Promise<readonly StepAnswer[] | null> {
  try {
    const { steps } = await call(contract.previewChanges, { params: { app: id }, body: { version, changes: [...changes] } });
    return steps.some((step) => step.blocks) ? null : steps;
  } catch {
    return null;
  }
}

/** Changes of the design of the app at hand, one after another, each undoable. */
export function useDesignChange() {
  const shown = useApp();
  const client = useQueryClient();
  const newest = (): AppInHand => client.getQueryData<AppInHand>(keys.app(shown.id)) ?? shown;
  /** @param hasSeen whether the person has been shown what follows from them */
  const make = (changes: readonly DesignChange[], hasSeen: boolean): Promise<ChangeOutcome> =>
    inTurn(async () => {
      // Working them out takes all kinds of parts and the language of expressions, which are loaded with the first change.
      const consequences = (await import('./consequences.js').catch(() => null))?.default;
      if (consequences === undefined) return notMade(null);
      const app = newest();
      const [first] = changes;
      const ask = (acceptLoss: boolean): Promise<OpenApp> =>
        call(contract.changeDesign, { params: { app: app.id }, body: { version: newest().version, changes: [...changes], acceptLoss } });
      const question = {
        title: first === undefined ? '' : questionOf(consequences.describeChange(first, app.design)),
        besides: consequences.besidesOf(changes, app.design),
      };
      const steps = !hasSeen && consequences.isFarReaching(question.besides) ? await stepsOf(app, changes) : null;
      if (steps !== null && !(await isAccepted(question, steps))) return declined;
      return attempt(client, app.id, question, steps === null ? ask : () => ask(true), {
        isDone: () => consequences.isGone(changes, newest().design),
        versions: () => consequences.versionsOf(changes, app.design, newest().design),
      });
    });
  return {
    change: (...changes: readonly DesignChange[]): Promise<ChangeOutcome> => make(changes, false),
    changeAsShown: (...changes: readonly DesignChange[]): Promise<ChangeOutcome> => make(changes, true),
    step: (direction: 'undo' | 'redo'): Promise<void> =>
      inTurn(async () => {
        const app = newest();
        const what = direction === 'undo' ? app.undo : app.redo;
        if (what === null) return;
        const title = direction === 'undo' ? `Undo “${what}”?` : `Redo “${what}”?`;
        const outcome = await attempt(client, app.id, { title, besides: [] }, (acceptLoss) =>
          call(contract.undoDesign, { params: { app: app.id }, body: { version: app.version, direction, acceptLoss } }),
        );
        const { say } = useDesignNotice.getState();
        say({ kind: 'message', isGood: outcome === true, text: outcome === true ? `${direction === 'undo' ? 'Undone' : 'Redone'}: ${what}` : outcome.text });
      }),
  };
}

/** Makes an earlier version of the design, one from a file, or a rearranged one the newest one; what would be lost is asked about first. */
export function useRestore() {
  const shown = useApp();
  const client = useQueryClient();
  /** @param hasSeen whether the person has been shown what would be lost, and wants it */
  return (to: DesignTarget, title: string, hasSeen = false): Promise<ChangeOutcome> =>
    inTurn(() => {
      const app = client.getQueryData<AppInHand>(keys.app(shown.id)) ?? shown;
      return attempt(client, app.id, { title, besides: [] }, (acceptLoss) =>
        call(contract.restoreDesign, { params: { app: app.id }, body: { version: app.version, to, acceptLoss: acceptLoss || hasSeen } }),
      );
    });
}

const questionOf = (change: string): string =>
  `${change
    .replace(/^Removed/u, 'Remove')
    .replace(/^Changed/u, 'Change')
    .replace(/^Renamed/u, 'Rename')}?`;
