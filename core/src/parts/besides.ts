/** What a change of a design does besides what was asked for: a removed field leaves its forms, its lists, and all else that shows it. */
import type { AppDesign } from '../design/design.js';
import { applyChanges } from './change.js';
import { isRemoval, type DesignChange } from './design-change.js';
import type { DesignDifference } from './difference.js';
import { differencesOf } from './differences.js';

/** What becomes of other parts when something goes or becomes another kind; empty for other changes, and for those that can't be made. */
export function besidesOf(changes: readonly DesignChange[], design: AppDesign): readonly DesignDifference[] {
  if (!changes.some((change) => takesAway(change, design))) return [];
  const made = applyChanges(design, changes);
  if (!made.ok) return [];
  const asked = new Set(changes.map(askedFor));
  return differencesOf(design, made.design).filter(({ part, id }) => !asked.has(keyOf(part, id)));
}

/** Whether a person is to see it before it is done: more follows than that forms and lists, which show everything, leave something out. */
export const isFarReaching = (besides: readonly DesignDifference[]): boolean => besides.some(({ part }) => part !== 'form' && part !== 'list');

function takesAway(change: DesignChange, design: AppDesign): boolean {
  // A section only frames its tables: without it they are what they were.
  if (isRemoval(change)) return change.kind !== 'remove' || change.part !== 'section';
  if (change.kind !== 'change_field') return false;
  const field = design.tables.find((table) => table.id === change.table)?.fields.find((each) => each.id === change.field.id);
  return field !== undefined && field.kind !== change.field.kind;
}

const keyOf = (part: string, id: string): string => `${part} ${id}`;

/** The part that a change speaks of; of a new one it need not be known. */
function askedFor(change: DesignChange): string | null {
  switch (change.kind) {
    case 'remove':
      return keyOf(change.part, change.id);
    case 'put':
      return keyOf(change.part, change.value.id);
    case 'remove_field':
      return keyOf('field', change.field);
    case 'change_field':
      return keyOf('field', change.field.id);
    case 'change_relationship':
      return keyOf('relationship', change.relationship);
    default:
      return null;
  }
}
