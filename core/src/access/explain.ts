/** Why someone can or can't: every grant of their roles, in words. */
import type { AppDesign } from '../design/design.js';
import { inWords } from '../expression/in-words.js';
import type { Locale } from '../values/locale.js';
import { grantsOf, type GrantOfRole, type Person } from './access.js';
import type { RecordAction } from './link-sight.js';

export interface GrantInQuestion extends GrantOfRole {
  /** The condition in plain words; empty: every record. */
  readonly conditionInWords: string;
  readonly allows: readonly RecordAction[];
  readonly hidden: readonly string[];
  readonly locked: readonly string[];
}

const actions: readonly RecordAction[] = ['see', 'add', 'change', 'remove', 'export'];

/** The same grants that access itself is made of, so that no answer can differ from what is done. */
export const grantsInQuestion = (design: AppDesign, person: Person, table: string, locale: Locale): readonly GrantInQuestion[] =>
  grantsOf(design, person, table).map((grant) => ({
    ...grant,
    conditionInWords: grant.condition === null ? '' : inWords(grant.condition, design, locale),
    allows: actions.filter((action) => grant.grant === null || grant.grant[action]),
    hidden: grant.grant?.hidden ?? [],
    locked: grant.grant?.locked ?? [],
  }));
