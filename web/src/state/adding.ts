/** Records that are added on the way, from a picker that did not find what was wanted. */
import type { ReferenceValue } from '@bibliona/core';
import { create } from 'zustand';

export interface Adding {
  readonly key: string;
  readonly table: string;
  /** What was typed in the picker. */
  readonly text: string;
  readonly onAdded: (record: ReferenceValue) => void;
}

interface AddingStore {
  /** The last one is worked on; those before it wait. */
  readonly stack: readonly Adding[];
  /** Whether there is a place where their forms are shown. */
  readonly isHere: boolean;
  readonly begin: (adding: Omit<Adding, 'key'>) => void;
  readonly end: (key: string) => void;
}

export const useAdding = create<AddingStore>((set) => ({
  stack: [],
  isHere: false,
  begin: (adding) => set(({ stack }) => ({ stack: [...stack, { ...adding, key: crypto.randomUUID() }] })),
  end: (key) => set(({ stack }) => ({ stack: stack.filter((adding) => adding.key !== key) })),
}));
