import { contract } from '@bibliona/core';
import { useSuspenseQuery } from '@tanstack/react-query';
import { call } from './api.js';
import { keys } from './keys.js';

export function useSession() {
  return useSuspenseQuery({ queryKey: keys.me, queryFn: () => call(contract.whoAmI), staleTime: Infinity }).data;
}

export const initials = (name: string): string =>
  name
    .split(/\s+/u)
    .map((word) => word[0] ?? '')
    .slice(0, 2)
    .join('')
    .toUpperCase();
