/** The parts that come again, by what `key` tells of them: each but the first. */
export function repeated<T>(parts: readonly T[], key: (part: T) => string): T[] {
  const seen = new Set<string>();
  return parts.filter((part) => seen.size === seen.add(key(part)).size);
}

/** A name as it is compared: capitals do not tell two names apart. */
export const folded = (name: string): string => name.toLowerCase();

/** The parts of a list by what `key` tells of them. Kept with the list, which stays the same object while nothing in it changes. */
export function indexedBy<T extends object>(key: (part: T) => string): (parts: readonly T[]) => ReadonlyMap<string, readonly T[]> {
  const known = new WeakMap<readonly T[], ReadonlyMap<string, readonly T[]>>();
  return (parts) => {
    let index = known.get(parts);
    if (index === undefined) {
      const made = new Map<string, T[]>();
      for (const part of parts) {
        const same = made.get(key(part));
        if (same === undefined) made.set(key(part), [part]);
        else same.push(part);
      }
      known.set(parts, (index = made));
    }
    return index;
  };
}
