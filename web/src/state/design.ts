import {
  contract,
  describeChange,
  versionsOf,
  type DesignChange,
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
type DesignNotice =
  | { readonly kind: 'none' }
  | { readonly kind: 'message'; readonly text: string; readonly isGood: boolean; readonly undo?: () => void }
  /** Somebody else has changed the same part: their version or this one. */
  | { readonly kind: 'overtaken'; readonly text: string; readonly versions: readonly VersionRow[]; readonly answer: (mine: boolean) => void }
  | { readonly kind: 'consent'; readonly title: string; readonly steps: readonly StepAnswer[]; readonly answer: (accepted: boolean) => void };

export const useDesignNotice = create<{ notice: DesignNotice; say: (notice: DesignNotice) => void }>((set) => ({
  notice: { kind: 'none' },
  say: (notice) => set({ notice }),
}));

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

async function attempt(
  client: QueryClient,
  id: string,
  title: string,
  ask: (acceptLoss: boolean) => Promise<OpenApp>,
  /** Where the versions differ, when the person can choose between them. */
  versions: (() => readonly VersionRow[]) | null = null,
): Promise<ChangeOutcome> {
  const { say } = useDesignNotice.getState();
  const done = (open: OpenApp): true => {
    client.setQueryData(keys.app(id), open);
    void client.invalidateQueries({ queryKey: keys.app(id), predicate: (query) => query.queryKey.length > 2 });
    say({ kind: 'none' });
    return true;
  };
  try {
    return done(await ask(false));
  } catch (error) {
    if (!(error instanceof ApiRefusal)) return notMade(error);
    if (error.code === 'stale_design') {
      await client.invalidateQueries({ queryKey: keys.app(id) });
      if (versions === null) {
        say({ kind: 'message', text: error.message, isGood: false });
        return notMade(error);
      }
      const mine = await new Promise<boolean>((resolve) => say({ kind: 'overtaken', text: error.message, versions: versions(), answer: resolve }));
      say({ kind: 'none' });
      // What is asked again is asked of the design as it has been read anew.
      return mine ? attempt(client, id, title, ask) : notMade(error);
    }
    const refused = error.answer;
    if (refused.code !== 'needs_consent') return notMade(error);
    const accepted = await new Promise<boolean>((resolve) => say({ kind: 'consent', title, steps: refused.details?.steps ?? [], answer: resolve }));
    say({ kind: 'none' });
    if (!accepted) return { text: 'Nothing was changed.', nameTaken: null, records: [] };
    try {
      return done(await ask(true));
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

/** Changes of the design of the app at hand, one after another, each undoable. */
export function useDesignChange() {
  const shown = useApp();
  const client = useQueryClient();
  const newest = (): AppInHand => client.getQueryData<AppInHand>(keys.app(shown.id)) ?? shown;
  return {
    change: (...changes: readonly DesignChange[]): Promise<ChangeOutcome> =>
      inTurn(() => {
        const app = newest();
        const ask = (acceptLoss: boolean): Promise<OpenApp> =>
          call(contract.changeDesign, { params: { app: app.id }, body: { version: newest().version, changes: [...changes], acceptLoss } });
        // By then the design has been read anew.
        return attempt(client, app.id, questionOf(changes, app), ask, () => versionsOf(changes, app.design, newest().design));
      }),
    step: (direction: 'undo' | 'redo'): Promise<void> =>
      inTurn(async () => {
        const app = newest();
        const what = direction === 'undo' ? app.undo : app.redo;
        if (what === null) return;
        const outcome = await attempt(client, app.id, direction === 'undo' ? `Undo “${what}”?` : `Redo “${what}”?`, (acceptLoss) =>
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
      return attempt(client, app.id, title, (acceptLoss) =>
        call(contract.restoreDesign, { params: { app: app.id }, body: { version: app.version, to, acceptLoss: acceptLoss || hasSeen } }),
      );
    });
}

function questionOf(changes: readonly DesignChange[], app: AppInHand): string {
  const first = changes[0];
  if (first === undefined) return '';
  const says = describeChange(first, app.design);
  return `${says
    .replace(/^Removed/u, 'Remove')
    .replace(/^Changed/u, 'Change')
    .replace(/^Renamed/u, 'Rename')}?`;
}
