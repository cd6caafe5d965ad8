/** The parts that come again, by what `key` tells of them: each but the first. */
export function repeated<T>(parts: readonly T[], key: (part: T) => string): T[] {
  const seen = new Set<string>();
  return parts.filter((part) => seen.size === seen.add(key(part)).size);
}

/** A name as it is compared: capitals do not tell two names apart. */
export const folded = (name: string): string => name.toLocaleLowerCase('en');
