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
  type Pieces,
} from '@bibliona/core';
import { breathing } from '../http/breathing.js';

type Seen = Omit<OpenApp, 'id' | 'version' | 'views' | 'ownLists' | 'undo' | 'redo'>;

export const seenBy = (design: AppDesign, person: Person): Promise<Seen> => breathing(seenInPieces(design, person));

function* seenInPieces(design: AppDesign, person: Person): Pieces<Seen> {
  const { me } = circumstancesOf(design, person, Date.now());
  const visible = designFor(design, person);
  yield;
  const rights: [string, OpenApp['rights'][string]][] = [];
  for (const item of visible.tables) {
    yield;
    const table = tableOf(design, item.id);
    const own = rightsOf(design, person, table);
    const isShown = (field: string): boolean => item.fields.some((each) => each.id === field);
    if (item.fields.length === 0 && !own.see && !own.add) continue;
    const partial = partFormulas(design, person, table).filter(isShown);
    rights.push([table.id, { ...own, hidden: own.hidden.filter(isShown), locked: own.locked.filter(isShown), partial }]);
  }
  const read = known.get(visible) ?? (yield* formulasAndCaptions(design, visible));
  known.set(visible, read);
  const menu = [...menuOf(design, person)];
  yield;
  return {
    role: person.role ?? 'member',
    rights: Object.fromEntries(rights),
    me: { Name: me.Name, Mail: me.Mail, Roles: [...me.Roles] },
    ties: { ...person.ties },
    ...read,
    menu,
    moves: design.routes.some((route) => route.moves.some((move) => mayMove(move, person))),
    design: visible,
  };
}

type FormulasAndCaptions = Pick<OpenApp, 'formulas' | 'captions'>;
// People with the same roles are told the same design, which is one object.
const known = new WeakMap<AppDesign, FormulasAndCaptions>();

/** What screens would have to read expressions for: the types of formulas, and by which fields records are called. */
function* formulasAndCaptions(design: AppDesign, visible: AppDesign): Pieces<FormulasAndCaptions> {
  const formulas: Record<string, string> = {};
  const captions: Record<string, string[]> = {};
  for (const { id, fields } of visible.tables) {
    yield;
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
