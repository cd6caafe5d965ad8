import { contract, type AppDesign, type Move, type Route, tablesTouched } from '@bibliona/core';
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

interface Moved {
  readonly table: string;
  readonly id: number;
  readonly rev: number;
  readonly move: string;
}

/** Moves records along their routes; what is on the screen is asked anew after `done`, which is called when it was moved. */
export function useMoves(): {
  readonly moving: string | null;
  readonly problem: string | null;
  readonly make: (moved: Moved, done?: () => Promise<void>) => Promise<void>;
} {
  const app = useApp();
  const client = useQueryClient();
  const [moving, setMoving] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const make = async ({ move, ...record }: Moved, done?: () => Promise<void>): Promise<void> => {
    setMoving(`${move} ${record.id}`);
    setProblem(null);
    try {
      await call(contract.saveRecords, { params: { app: app.id }, body: { key: crypto.randomUUID(), writes: [{ kind: 'move', ...record, move }] } });
      await done?.();
    } catch (error) {
      const isLate = error instanceof ApiRefusal && error.code === 'conflict';
      setProblem(isLate ? `${error.message} Look at it as it is now, and decide again.` : messageOf(error));
    } finally {
      await touched(client, app, tablesTouched(app.design, [{ kind: 'move', table: record.table }]));
      setMoving(null);
    }
  };
  return { moving, problem, make };
}
