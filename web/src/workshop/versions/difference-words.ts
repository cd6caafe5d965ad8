import type { DesignDifference } from '@bibliona/core';

const verbs = {
  would: { added: 'Adds', removed: 'Removes', renamed: 'Renames', changed: 'Changes', begins: 'publishes', ends: 'stops publishing' },
  did: { added: 'Added', removed: 'Removed', renamed: 'Renamed', changed: 'Changed', begins: 'published', ends: 'stopped publishing' },
} as const;

/** @param tense whether it has happened, or would happen */
export function differenceWords({ kind, what, name, was, table, published }: DesignDifference, tense: keyof typeof verbs): string {
  const of = table === null ? '' : ` of ${table}`;
  const verb = verbs[tense][kind];
  const also = published === null ? '' : `, and ${verbs[tense][published]} it`;
  return kind === 'renamed' ? `${verb} the ${what} ${was ?? ''}${of} to ${name}${also}` : `${verb} the ${what} ${name}${of}${also}`;
}
