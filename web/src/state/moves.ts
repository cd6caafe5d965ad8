import { contract, type AppDesign, type Automation, type Move, type Route, type Write, tablesTouched } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ApiRefusal, call, messageOf } from './api.js';
import { useApp } from './app.js';
import { touched } from './live.js';
import { locale } from './locale.js';
import { type Language } from './language.js';

/** What the guard of a move asks, in words; empty when it asks nothing. */
export function guardWords(language: Language | null, design: AppDesign, route: Route, move: Move): string {
  if (move.guard.trim() === '') return '';
  const checked = language?.check(move.guard, { design, table: route.table }, language.wants.truth);
  return language !== null && checked?.ok === true ? language.inWords(checked.node, design, locale()) : 'its condition is met';
}

/** The automations that the person at hand can run for records of a table. */
export const startableIn = (design: AppDesign, table: string): readonly Automation[] =>
  design.automations.filter((automation) => automation.table === table && automation.on === 'started' && automation.isOn);

/** Something that is done to one record besides writing its fields: moving it along its route, running an automation for it. */
type Act = Extract<Write, { kind: 'move' | 'start' }>;
const nameOfAct = (act: Act): string => (act.kind === 'move' ? act.move : act.automation);

/** Does such things; what is on the screen is asked anew after `done`, which is called when it was done. */
export function useActs(): {
  /** Whether this is under way. */
  readonly isDoing: (name: string, id: number) => boolean;
  readonly problem: string | null;
  /** `done` is given the save that it was done by. */
  readonly act: (act: Act, done?: (save: string) => Promise<void> | void) => Promise<void>;
} {
  const app = useApp();
  const client = useQueryClient();
  const [doing, setDoing] = useState<Act | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const act = async (next: Act, done?: (save: string) => Promise<void> | void): Promise<void> => {
    const save = crypto.randomUUID();
    setDoing(next);
    setProblem(null);
    try {
      await call(contract.saveRecords, { params: { app: app.id }, body: { key: save, writes: [next] } });
      await done?.(save);
    } catch (error) {
      const isLate = error instanceof ApiRefusal && error.code === 'conflict';
      setProblem(isLate ? `${error.message} Look at it as it is now, and decide again.` : messageOf(error));
    } finally {
      await touched(client, app, tablesTouched(app.design, [next]));
      setDoing(null);
    }
  };
  return { isDoing: (name, id) => doing !== null && nameOfAct(doing) === name && doing.id === id, problem, act };
}
