import { contract } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { call } from './api.js';
import { keys } from './keys.js';

export interface StarterChoice {
  readonly id: string;
  readonly name: string;
  readonly description: string;
}

/** The designs that an empty app can start with; none until they are known. */
export function useStarters(): readonly StarterChoice[] {
  const { data } = useQuery({ queryKey: keys.starters, queryFn: () => call(contract.listStarters), staleTime: Infinity });
  return data?.starters ?? [];
}
