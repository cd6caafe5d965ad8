import { useState } from 'react';

/** State that is there again next time, on this machine: heights, choices of view. Never anything of a record. */
export function useRemembered<T extends string | number>(name: string, start: T): [T, (value: T) => void] {
  const key = `bibliona ${name}`;
  const [value, setValue] = useState<T>(() => {
    const stored = localStorage.getItem(key);
    if (stored === null) return start;
    return (typeof start === 'number' ? (Number.isFinite(Number(stored)) ? Number(stored) : start) : stored) as T;
  });
  return [
    value,
    (next) => {
      localStorage.setItem(key, String(next));
      setValue(next);
    },
  ];
}
