/** What sets automations off, as the Workshop says it: one row here for each. */
import { isStored, routeOf, tableOf, type AppDesign, type Automation } from '@bibliona/core';

/** What of the table narrows a trigger down: fields or moves. */
interface Narrowing {
  readonly label: string;
  /** What holds when nothing is chosen. */
  readonly none: string;
  readonly options: (table: string, design: AppDesign) => readonly { readonly id: string; readonly name: string }[];
  readonly chosen: (automation: Automation) => readonly string[];
  readonly choose: (automation: Automation, ids: string[]) => Automation;
}

interface TriggerLook {
  /** Goes on after "it" and after "When a record of Lots". */
  readonly words: string;
  /** The same when it is narrowed down to parts with these names. */
  readonly narrowed: (names: readonly string[]) => string;
  readonly isOffered: (table: string, design: AppDesign) => boolean;
  readonly narrowing: Narrowing | null;
}

const orList = (names: readonly string[]): string => (names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} or ${names.at(-1) ?? ''}`);

export const triggerKinds: Readonly<Record<Automation['on'], TriggerLook>> = {
  added: { words: 'is added', narrowed: () => 'is added', isOffered: () => true, narrowing: null },
  changed: {
    words: 'is changed',
    narrowed: (names) => `has another ${orList(names)}`,
    isOffered: () => true,
    narrowing: {
      label: 'Only when these fields change',
      none: 'Empty: when any field changes.',
      options: (table, design) => tableOf(design, table).fields.filter(isStored),
      chosen: (automation) => automation.fields,
      choose: (automation, fields) => ({ ...automation, fields }),
    },
  },
  moved: {
    words: 'is moved on its route',
    narrowed: (names) => `is moved by ${orList(names.map((name) => `“${name}”`))}`,
    isOffered: (table, design) => (routeOf(design, table)?.moves.length ?? 0) > 0,
    narrowing: {
      label: 'Only by these moves',
      none: 'Empty: every move of the route.',
      options: (table, design) => routeOf(design, table)?.moves ?? [],
      chosen: (automation) => automation.moves,
      choose: (automation, moves) => ({ ...automation, moves }),
    },
  },
  started: {
    words: 'has its button pressed',
    narrowed: (names) => `has its button pressed by ${orList(names)}`,
    isOffered: () => true,
    narrowing: {
      label: 'Only by people with these roles',
      none: 'Empty: by everyone who sees the record.',
      options: (_, design) => design.roles,
      chosen: (automation) => automation.startedBy ?? [],
      choose: (automation, ids) => {
        const { startedBy: _, ...rest } = automation;
        return ids.length === 0 ? rest : { ...rest, startedBy: ids };
      },
    },
  },
};

/** The trigger, as a sentence goes on after "When a record of Lots". */
export function triggerWords(automation: Automation, design: AppDesign): string {
  const { words, narrowed, narrowing } = triggerKinds[automation.on];
  const chosen = narrowing?.chosen(automation) ?? [];
  if (narrowing === null || chosen.length === 0) return words;
  const options = narrowing.options(automation.table, design);
  return narrowed(chosen.map((id) => options.find((option) => option.id === id)?.name ?? 'something that was removed'));
}
