import { contract, type SignedIn } from '@bibliona/core';
import { useQueryClient, useSuspenseQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { create } from 'zustand';
import { call } from './api.js';
import { letGoOfAll } from './kept.js';
import { keys } from './keys.js';

export const sessionQuery = { queryKey: keys.me, queryFn: () => call(contract.whoAmI), staleTime: Infinity };
export const useSession = () => useSuspenseQuery(sessionQuery).data;

/** Begins with nothing of what someone before might have seen. */
export function useEnter(): (person: SignedIn) => void {
  const client = useQueryClient();
  return (person) => {
    client.clear();
    client.setQueryData(keys.me, { person, needsSetUp: false });
  };
}

export function useSignOut(): (to: string) => Promise<void> {
  const client = useQueryClient();
  const navigate = useNavigate();
  return async (to) => {
    await call(contract.signOut);
    letGoOfAll();
    // First the address, then the person: else the screen that closes would ask to sign in and come back to it.
    await navigate(to);
    client.clear();
    client.setQueryData(keys.me, { person: null, needsSetUp: false });
  };
}

/** A session that ended while a page was open. Waiting requests continue after the same person signs in again. */
interface Ended {
  readonly isEnded: boolean;
  /** Called by a request that was refused; true when it can be sent again. */
  readonly wait: () => Promise<boolean>;
  /** Called when the person has signed in, or will not. */
  readonly settle: (isBack: boolean) => void;
}
let waiting: ((isBack: boolean) => void)[] = [];
export const useEndedSession = create<Ended>((set) => ({
  isEnded: false,
  wait: () =>
    new Promise((resolve) => {
      waiting.push(resolve);
      set({ isEnded: true });
    }),
  settle: (isBack) => {
    const all = waiting;
    waiting = [];
    set({ isEnded: false });
    for (const each of all) each(isBack);
  },
}));

export const initials = (name: string): string =>
  name
    .split(/\s+/u)
    .map((word) => word[0] ?? '')
    .slice(0, 2)
    .join('')
    .toUpperCase();
