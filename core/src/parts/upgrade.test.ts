import { expect, test } from 'vitest';
import { parseDesign } from './parse.js';
import { tableOf } from '../design/read.js';
import { designOf, field as plan, link, table } from './sample.js';

const field = (more: object) => ({ description: '', required: false, unique: false, default: null, ...more });
/** A design as the first format stored it: defaults were values, captions lists of fields. */
const stored = (caption: readonly string[]) => ({
  format: 1,
  name: 'Honey',
  tables: [
    {
      id: 'hives',
      name: 'Hives',
      slug: 'hives',
      description: '',
      section: '',
      caption,
      fields: [
        field({ kind: 'text', id: 'f_code', name: 'Code (short)', column: 'code', default: 'a "b"\\' }),
        field({ kind: 'whole', id: 'f_year', name: 'Queen year', column: 'year', default: 2026 }),
        field({ kind: 'decimal', id: 'f_rent', name: 'Rent', column: 'rent', digits: 2, default: '1.50' }),
        field({ kind: 'date', id: 'f_since', name: 'Since', column: 'since', default: 'today' }),
        field({ kind: 'date', id: 'f_until', name: 'Until', column: 'until', default: '2026-05-01' }),
        field({ kind: 'yes_no', id: 'f_gentle', name: 'Gentle', column: 'gentle', default: false }),
        field({ kind: 'choice', id: 'f_box', name: 'Box', column: 'box', choices: [{ id: 'top', label: 'Top bar' }], default: 'top' }),
      ],
    },
  ],
  relationships: [],
  forms: [{ id: 'fm_h', table: 'hives', name: 'Hives', items: [] }],
  lists: [{ id: 'l_h', table: 'hives', name: 'Hives', columns: [], sort: null }],
});

test('defaults of the first format become expressions that mean the same', () => {
  const hives = tableOf(parseDesign(stored([])), 'hives');
  expect(hives.fields.map((each) => each.default)).toEqual(['"a \\"b\\"\\\\"', '2026', '1.50', 'today()', 'date("2026-05-01")', 'false', '"Top bar"']);
});

test.each([
  [[], ''],
  [['f_code'], 'Code short'],
  [['f_code', 'f_year'], 'string join([Code short, string(Queen year)], " · ")'],
  [['f_box', 'f_since'], 'string join([Box, string(Since)], " · ")'],
  [['f_gone'], ''],
])('the caption %j becomes %s', (caption, wanted) => expect(tableOf(parseDesign(stored(caption)), 'hives').caption).toBe(wanted));

test('lists of format 7 keep their order, and show links as columns', () => {
  const design = designOf([
    table('sites', 'Sites', [plan({ kind: 'text', id: 's_name', name: 'Name' })]),
    table('plants', 'Plants', [plan({ kind: 'text', id: 'p_name', name: 'Name' })]),
    link('grows', 'Grows', ['sites', 'Plants', 'Site'], ['plants', 'Sites', 'Plant']),
  ]);
  const asOnce = {
    ...design,
    format: 7,
    lists: design.lists.map(({ id, table: of, name, roles, isDefault }) => ({
      ...{ id, table: of, name, roles, isDefault, condition: '' },
      columns: of === 'sites' ? ['s_name'] : of === 'plants' ? ['p_name'] : [],
      sort: of === 'sites' ? { field: 's_name', direction: 'down' } : null,
    })),
  };
  const { lists } = parseDesign(asOnce);
  expect(lists.map((list) => [list.columns, list.order, list.arrangement.kind])).toEqual([
    [['s_name', 'grows_r1'], [{ field: 's_name', direction: 'down' }], 'grid'],
    [['p_name', 'grows_r2'], [], 'grid'],
    [[], [], 'grid'],
  ]);
  expect(lists[0]?.columns).toEqual(design.lists[0]?.columns);
});

test('the diagram of format 8 has neither sections nor notes', () => {
  const { sections: _, notes: __, ...old } = designOf([table('sites', 'Sites', [plan({ kind: 'text', id: 's_name', name: 'Name' })])]);
  expect(parseDesign({ ...old, format: 8 })).toMatchObject({ format: 10, sections: [], notes: [] });
});

test('images of format 9 keep their words for those who can’t see them', () => {
  const design = designOf([table('sites', 'Sites', [plan({ kind: 'text', id: 's_name', name: 'Name' })])]);
  const items = [
    { kind: 'image', id: 'im_hive', says: 'A hive', width: 6 },
    { kind: 'image', id: 'im_line', width: 6 },
  ];
  const old = { ...design, format: 9, forms: design.forms.map((form) => ({ ...form, items })) };
  expect(parseDesign(old).forms[0]?.items).toEqual([
    { kind: 'image', id: 'im_hive', alt: 'A hive', width: 6 },
    { kind: 'image', id: 'im_line', alt: '', width: 6 },
  ]);
});

test('what is no design at all is refused as such', () => {
  for (const json of [
    null,
    1,
    'x',
    [],
    {},
    { format: 1 },
    { format: 2 },
    { format: 5 },
    { format: 6 },
    { format: 7 },
    { format: 8 },
    { format: 9 },
    { format: 10 },
    { format: 11 },
  ])
    expect(() => parseDesign(json)).toThrow('The design is not whole');
});
