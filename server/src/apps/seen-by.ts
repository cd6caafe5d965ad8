/** What a person's browser knows of an app: no more of its design than their rights reach. */
import {
  captionFields,
  circumstancesOf,
  designFor,
  mayMove,
  menuOf,
  partFormulas,
  rightsOf,
  tableOf,
  typeOfField,
  type AppDesign,
  type OpenApp,
  type Person,
} from '@bibliona/core';

type Seen = Omit<OpenApp, 'id' | 'version' | 'views' | 'ownLists' | 'undo' | 'redo'>;

export function seenBy(design: AppDesign, person: Person): Seen {
  const { me } = circumstancesOf(design, person, Date.now());
  const theirs = designFor(design, person);
  const rights = theirs.tables.flatMap((item) => {
    const table = tableOf(design, item.id);
    const own = rightsOf(design, person, table);
    const isShown = (field: string): boolean => item.fields.some((each) => each.id === field);
    if (item.fields.length === 0 && !own.see && !own.add) return [];
    const partial = partFormulas(design, person, table).filter(isShown);
    return [[table.id, { ...own, hidden: own.hidden.filter(isShown), locked: own.locked.filter(isShown), partial }] as const];
  });
  return {
    role: person.role ?? 'member',
    rights: Object.fromEntries(rights),
    me: { Name: me.Name, Mail: me.Mail, Roles: [...me.Roles] },
    ties: { ...person.ties },
    ...tellingOf(design, theirs),
    menu: [...menuOf(design, person)],
    moves: design.routes.some((route) => route.moves.some((move) => mayMove(move, person))),
    design: theirs,
  };
}

type Telling = Pick<OpenApp, 'formulas' | 'captions'>;
// People with the same roles are told the same design, which is one object.
const known = new WeakMap<AppDesign, Telling>();

/** What screens would have to read expressions for: the types of formulas, and by which fields records are called. */
function tellingOf(design: AppDesign, theirs: AppDesign): Telling {
  const told = known.get(theirs) ?? readTelling(design, theirs);
  known.set(theirs, told);
  return told;
}

function readTelling(design: AppDesign, theirs: AppDesign): Telling {
  const formulas: Record<string, string> = {};
  const captions: Record<string, string[]> = {};
  for (const { id, fields } of theirs.tables) {
    const table = tableOf(design, id);
    const isShown = new Set(fields.map((field) => field.id));
    captions[id] = captionFields(design, table).flatMap((field) => (isShown.has(field.id) ? [field.id] : []));
    for (const field of table.fields) {
      const type = field.kind === 'formula' && isShown.has(field.id) ? typeOfField(design, id, field) : null;
      if (type !== null) formulas[field.id] = type.kind;
    }
  }
  return { formulas, captions };
}
