/** Designs to start from, each by a name that stays. */
import { costumeStore } from './costume-store.js';
import { lighthouseRounds } from './lighthouse-rounds.js';
import { schoolGarden } from './school-garden.js';
import type { Starter } from './starter.js';

export type { Starter } from './starter.js';
export const starters: Readonly<Record<string, Starter>> = {
  costume_store: costumeStore,
  lighthouse_rounds: lighthouseRounds,
  school_garden: schoolGarden,
};
