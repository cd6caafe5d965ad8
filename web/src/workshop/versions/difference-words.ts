import type { DesignDifference } from '@bibliona/core';

const verbs = {
  would: { added: 'Adds', removed: 'Removes', renamed: 'Renames', changed: 'Changes' },
  did: { added: 'Added', removed: 'Removed', renamed: 'Renamed', changed: 'Changed' },
} as const;

/** @param tense whether it has happened, or would happen */
export function differenceWords({ kind, what, name, was, table }: DesignDifference, tense: keyof typeof verbs): string {
  const of = table === null ? '' : ` of ${table}`;
  const verb = verbs[tense][kind];
  return kind === 'renamed' ? `${verb} the ${what} ${was ?? ''}${of} to ${name}` : `${verb} the ${what} ${name}${of}`;
}
