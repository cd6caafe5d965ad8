import { describe, expect, test } from 'vitest';
import { designMessage } from './issues.js';
import { DesignInvalid, parseDesign } from './parse.js';
import { whole } from './sample.js';

/** What comes from outside is a design only when it is whole; what is wrong is said part by part. */
type Json = Record<string, unknown> & Json[];
/** A part of the design by its path, such as `tables.1.fields.0`. */
const at = (design: Json, path: string): Json => path.split('.').reduce((part, key) => part[key as never] as Json, design);
/** What is said of the design after an edit. */
function said(edit: (design: Json) => void): string[] {
  const json = JSON.parse(JSON.stringify(whole)) as Json;
  edit(json);
  try {
    parseDesign(json);
    return [];
  } catch (error) {
    if (!(error instanceof DesignInvalid)) throw error;
    return error.issues.map(designMessage);
  }
}
/** The part at the path with other values in it. */
const set = (path: string, values: object) => (design: Json) => void Object.assign(at(design, path), values);
/** The same within a form, by its name. */
const setInForm =
  (name: string) =>
  (path: string, values: object) =>
  (design: Json): void => {
    const form = at(design, 'forms').find((json) => json['name'] === name) as Json;
    Object.assign(path === '' ? form : at(form, path), values);
  };
const [aroundForm, belowForm] = [setInForm('With its apiary'), setInForm('With its hives')];
/** The last part of a list once more, with other values in it. */
const again =
  (path: string, values: object) =>
  (design: Json): void =>
    void at(design, path).push({ ...at(design, path).at(-1), ...values } as Json);
const gone = (what: string, id: string): string => `There is no ${what} "${id}" in this app. Reload the page to see the current design.`;
const taken = (what: string, name: string, within: string): string => `There is already ${what} called "${name}" in ${within}. Choose another name.`;

test('a whole design comes back as it was', () => {
  expect(said(() => undefined)).toEqual([]);
  expect(parseDesign(JSON.parse(JSON.stringify(whole)))).toEqual(whole);
});

test.each([null, 5, 'design', [], {}, { format: 2 }, { format: 99, name: 'Honey', tables: [], relationships: [], forms: [], lists: [] }])(
  'what has another shape is none: %j',
  (json) => expect(() => parseDesign(json)).toThrow(DesignInvalid),
);

describe('a design is refused with', () => {
  test.each<readonly [string, (design: Json) => void, string]>([
    ['two tables of a name', set('tables.1', { name: ' APIARIES' }), taken('a table', 'APIARIES', 'Honey')],
    ['two tables in one place', set('tables.1', { slug: 'apiaries' }), 'Two tables share the name apiaries in the database'],
    ['an id twice', set('queries.0', { id: 'hives' }), 'The id "hives" is in use already.'],
    ['two fields of a name', set('tables.1.fields.2', { name: 'code' }), taken('a field', 'code', 'Hives')],
    ['two fields in one column', set('tables.1.fields.2', { column: 'code' }), 'Two fields of Hives share the column code'],
    [
      'a field in a column of the house',
      set('tables.1.fields.2', { column: 'rev' }),
      '"Queen year" is a name that every table has already (id, rev, created at, created by, updated at, updated by). Choose another name.',
    ],
    ['two choices of an id', again('tables.1.fields.1.choices', { label: 'D' }), 'Two choices of State share the id s_c'],
    ['two choices of a name', again('tables.1.fields.1.choices', { id: 's_d', label: 'a' }), taken('a choice', 'a', 'State')],
    ['a reference of no relationship', set('tables.1.fields.3', { relationship: 'r_none' }), gone('relationship', 'r_none')],
    ['a relationship from no table', set('relationships.0', { parent: 'none' }), gone('table', 'none')],
    ['a relationship without its field', set('relationships.0', { field: 'h_code' }), gone('field', 'h_code')],
    [
      'a required reference that is to be cleared',
      (design) => {
        set('tables.1.fields.3', { required: true })(design);
        set('relationships.0', { whenParentRemoved: 'clear' })(design);
      },
      "Apiary is required, so it can't be cleared when its record is removed",
    ],
    ['a form with no such field', set('forms.1.items.0', { field: 'h_none' }), gone('field', 'h_none')],
    [
      'a form with no such children',
      (design) => at(design, 'forms.1.items').push({ kind: 'children', relationship: 'r_none' } as never),
      gone('relationship', 'r_none'),
    ],
    [
      'a form with a field that no reference leads to',
      aroundForm('items.0', { through: ['h_code'] }),
      'The form With its apiary shows a field of a record that its own no longer leads to',
    ],
    [
      'a form that changes a formula of another record',
      (design) => {
        set('tables.0.fields.0', { kind: 'formula', expression: 'count(Hives)' })(design);
      },
      "The form With its apiary changes Name, which can't be changed there",
    ],
    [
      'a form with a field of another table',
      aroundForm('items.0', { field: 'h_code' }),
      'The form With its apiary shows a field of a record that its own no longer leads to',
    ],
    ['a form with no such field of another record', aroundForm('items.0', { field: 'a_none' }), gone('field', 'a_none')],
    [
      'a form with a list of other records',
      belowForm('items.0', { by: 'h_code' }),
      'The form With its hives shows the list Board, whose records no longer refer to its own',
    ],
    ['a form with no such list', belowForm('items.0', { list: 'l_none' }), gone('list', 'l_none')],
    [
      'a button that adds what belongs to others',
      belowForm('', { table: 'hives', items: [{ kind: 'button', id: 'bt', name: 'Add', does: { kind: 'add', relationship: 'r_hives' }, width: 3 }] }),
      'The form With its hives adds other records by its button Add',
    ],
    [
      'a button that runs what runs by itself',
      aroundForm('items.1.does', { automation: 'au_year' }),
      'The form With its apiary runs Years by its button Note the year, which has no button for these records',
    ],
    ['a button to no such page', aroundForm('items.2.does', { page: { kind: 'dashboard', dashboard: 'da_none' } }), gone('dashboard', 'da_none')],
    ['an automation for a role that is not there', set('automations.1', { startedBy: ['none'] }), gone('role', 'none')],
    [
      'a list whose records open in a form of another table',
      (design) => void Object.assign(at(design, 'lists').find((json) => json['name'] === 'Board') as Json, { form: 'fm_below' }),
      "Records of the list Board can't open in With its hives: that is a form of another table.",
    ],
    [
      'a timeline of no dates',
      (design) =>
        void Object.assign(at(design, 'lists').find((json) => json['name'] === 'Board') as Json, { arrangement: { kind: 'timeline', from: 'h_year' } }),
      'The timeline Board needs dates. Queen year is none.',
    ],
    ['rows with a filled field of another table', belowForm('items.2', { fills: [{ field: 'a_name', value: '"x"' }] }), gone('field', 'a_name')],
    [
      'rows that are filled twice',
      belowForm('items.2', { fills: [1, 2].map((n) => ({ field: 'h_year', value: String(n) })) }),
      'The form With its hives fills Queen year of its rows twice. Take that off the form first.',
    ],
    [
      'rows whose parent is filled',
      belowForm('items.2', { fills: [{ field: 'hives_up', value: 'null' }] }),
      'The form With its hives fills the field by which its rows belong to it. Take that off the form first.',
    ],
    [
      'a field that is filled with nothing that is there',
      setInForm('Short')('items.3', { fill: 'Coed' }),
      'What the form Short fills Queen year with: Hives has nothing called “Coed”. Did you mean Code?',
    ],
    [
      'a chart of what has no sum',
      (design) =>
        void Object.assign(at(design, 'lists').find((json) => json['name'] === 'Board') as Json, {
          arrangement: { kind: 'chart', by: 'h_state', sum: 'h_code' },
        }),
      'The chart Board needs numbers that add up. Code has none.',
    ],
    [
      'a chart by no such field',
      (design) => void Object.assign(at(design, 'lists').find((json) => json['name'] === 'Board') as Json, { arrangement: { kind: 'chart', by: 'h_none' } }),
      gone('field', 'h_none'),
    ],
    [
      'rows with a column of another table',
      belowForm('', { items: [{ kind: 'children', relationship: 'r_hives', columns: ['a_name'] }] }),
      gone('field', 'a_name'),
    ],
    ['a list with no such column', set('lists.1', { columns: ['h_none'] }), gone('field', 'h_none')],
    ['a list in no such order', set('lists.1', { order: [{ field: 'h_none', direction: 'up' }] }), gone('field', 'h_none')],
    ['a table without its form', (design) => at(design, 'forms').splice(1, 1), 'Hives needs a default form. Make another form the default first.'],
    ['a table without its list', (design) => at(design, 'lists').splice(1, 1), 'Hives needs a default list. Make another list the default first.'],

    ['two queries of a name', again('queries', { id: 'q_new' }), taken('a query', 'Old', 'Honey')],
    ['a query of no table', set('queries.0', { table: 'none' }), gone('table', 'none')],
    ['a query in no such order', set('queries.0', { order: [{ column: 'c_none', direction: 'up' }] }), 'Old is ordered by a column that it does not have'],
    ['two columns of an id', again('queries.0.columns', { name: 'Other' }), 'Two columns of Old share the id c_site'],
    ['two columns of a name', again('queries.0.columns', { id: 'c_other' }), taken('a column', 'Apiary', 'Old')],
    ['a column that says nothing', set('queries.0.columns.0', { expression: ' ' }), 'The column Code of Old says nothing yet.'],
    [
      'a column that cannot be read',
      set('queries.0.columns.0', { expression: 'Coed' }),
      'The column Code of the query Old: Hives has nothing called “Coed”. Did you mean Code?',
    ],

    ['two reports of a name', again('reports', { id: 'rep_two' }), taken('a report', 'All', 'Honey')],
    ['a report of no table', set('reports.0.source', { table: 'none' }), gone('table', 'none')],
    ['a report of no query', set('reports.0', { source: { kind: 'query', query: 'q_none' } }), gone('query', 'q_none')],
    [
      'a report of no such column',
      set('reports.0.fields.0', { column: 'c_none' }),
      'The report All shows a column that its rows do not have. Take it out there first.',
    ],
    ['a report that says something twice', again('reports.0.fields', {}), 'All shows the column c_code twice'],
    [
      'a report grouped twice by the same',
      set('reports.0', { groups: [{ column: 'c_site' }, { column: 'c_site' }] }),
      'All is grouped by the column c_site twice',
    ],
    ['two dashboards of a name', again('dashboards', { id: 'da_two', tiles: [] }), taken('a dashboard', 'Season', 'Honey')],
    ['two tiles of an id', again('dashboards.0.tiles', {}), 'The id "ti_one" is in use already.'],

    ['two routes of a name', again('routes', { id: 'way_two', table: 'apiaries' }), taken('a route', 'Way', 'Honey')],
    [
      'two routes of a table',
      again('routes', { id: 'way_two', name: 'Other', moves: [] }),
      'The records of this table have a route already: Other cannot be another.',
    ],
    ['two moves of an id', again('routes.0.moves', { name: 'Off', from: 's_b', to: 's_c' }), 'The id "mo_on" is in use already.'],
    ['two moves of a name from one status', again('routes.0.moves', { id: 'mo_two', to: 's_c' }), taken('a move', 'On', 'Way')],
    ['a route of no table', set('routes.0', { table: 'none' }), gone('table', 'none')],
    ['a route of no choices', set('routes.0', { field: 'h_code' }), 'The route Way needs a field of choices in Hives: its choices are the statuses.'],
    ['a route that begins nowhere', set('routes.0.statuses.0', { kind: 'work' }), 'The route Way needs one status where it begins.'],
    ['a route that begins twice', set('routes.0.statuses.1', { kind: 'start' }), 'The route Way needs one status where it begins.'],
    ['a status twice', again('routes.0.statuses', {}), 'The id "s_c" is in use already.'],
    [
      'a move from no status',
      set('routes.0.moves.0', { from: 's_z' }),
      'The move On of Way leads from or to a status that no longer exists. Remove the move first.',
    ],
    ['a move that leads nowhere', set('routes.0.moves.0', { to: 's_a' }), 'The move On of Way leads nowhere: choose another status to go to.'],
    ['a move of no role', set('routes.0.moves.0', { roles: ['none'] }), gone('role', 'none')],
    ['a guard that cannot be read', set('routes.0.moves.0', { guard: 'Code' }), 'The guard of On in the route Way: This '],

    ['two automations of a name', again('automations', { id: 'au_two', steps: [] }), taken('an automation', 'Note the year', 'Honey')],
    ['an automation of no table', set('automations.0', { table: 'none' }), gone('table', 'none')],
    ['two steps of an id', again('automations.0.steps', {}), 'The id "st_year" is in use already.'],
    [
      'an automation that waits for no field',
      set('automations.0', { fields: ['h_none'] }),
      'The automation Years is triggered by changes of a field that no longer exists. Choose another field there first.',
    ],
    [
      'an automation that waits for no move',
      set('automations.0', { on: 'moved', moves: ['mo_none'] }),
      'The automation Years is triggered by a move that no longer exists. Choose another move there first.',
    ],
    [
      'a step that fills no field',
      set('automations.0.steps.0.values.0', { field: 'h_none' }),
      'Step 1 of the automation Years fills a field of Hives that no longer exists. Take it out there first.',
    ],
    ['a step that fills one twice', again('automations.0.steps.0.values', {}), 'Step 1 of the automation Years fills Queen year twice.'],
    [
      'a step that fills the status',
      set('automations.0.steps.0.values.0', { field: 'h_state' }),
      'Step 1 of the automation Years fills State, which changes by the moves of its route alone.',
    ],
    [
      'a step that says nothing',
      set('automations.0.steps.0.values.0', { expression: '' }),
      'Step 1 of the automation Years does not say what Queen year is filled with.',
    ],

    ['two roles of a name', again('roles', { id: 'role_two' }), taken('a role', 'Keeper', 'Honey')],
    ['a grant of no table', set('roles.1', { grants: [{ id: 'g_one', table: 'none' }] }), gone('table', 'none')],
    [
      'a grant twice',
      set('roles.1', {
        grants: [
          { id: 'g_one', table: 'hives' },
          { id: 'g_one', table: 'hives' },
        ],
      }),
      'The id "g_one" is in use already.',
    ],
    ['a grant that hides no field', set('roles.1', { grants: [{ id: 'g_one', table: 'hives', hidden: ['a_name'] }] }), gone('field', 'a_name')],
    ['a menu with no such list', set('roles.1', { menu: [{ kind: 'list', list: 'none' }] }), gone('list', 'none')],
    ['a menu with no such form', set('roles.1', { menu: [{ kind: 'form', form: 'none' }] }), gone('form', 'none')],
    ['a menu with no such query', set('roles.1', { menu: [{ kind: 'query', query: 'q_none' }] }), gone('query', 'q_none')],
    ['a menu with no such report', set('roles.1', { menu: [{ kind: 'report', report: 'rep_none' }] }), gone('report', 'rep_none')],
    ['a menu with no such dashboard', set('roles.1', { menu: [{ kind: 'dashboard', dashboard: 'da_none' }] }), gone('dashboard', 'da_none')],
    ['two ties of a name', again('ties', { id: 'tie_two' }), taken('a tie', 'Home', 'Honey')],
    ['a tie to no table', set('ties.0', { table: 'none' }), gone('table', 'none')],
    ['a tie that cannot be said', set('ties.0', { name: 'Mail' }), '"Mail" cannot be said after "me.": choose another name'],
  ])('%s', (_, edit, sentence) => expect(said(edit).join('|')).toContain(sentence));
});
