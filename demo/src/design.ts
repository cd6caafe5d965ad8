/** The design of the Quillmoor Honey Co-operative, as the changes its builder made. */
import { grantOf, type DesignChange, type FieldPlan, type SavedQuery } from '@bibliona/core';

const common = { description: '', required: false, unique: false, default: null } as const;
const choices = (...labels: readonly string[]) => labels.map((label) => ({ id: label.toLowerCase().replaceAll(' ', '_'), label }));

const text = (id: string, name: string, more: Partial<FieldPlan> = {}): FieldPlan => ({ ...common, ...more, kind: 'text', id, name });
const longText = (id: string, name: string): FieldPlan => ({ ...common, kind: 'long_text', unique: false, id, name });
const whole = (id: string, name: string, more: Partial<FieldPlan> = {}): FieldPlan => ({ ...common, ...more, kind: 'whole', id, name });
const date = (id: string, name: string, more: Partial<FieldPlan> = {}): FieldPlan => ({ ...common, ...more, kind: 'date', id, name });

const formula = (id: string, name: string, expression: string, digits: number | null = null): FieldPlan => ({
  ...common,
  kind: 'formula',
  required: false,
  unique: false,
  id,
  name,
  expression,
  digits,
});

const table = (id: string, name: string, section: string, description: string, fields: FieldPlan[]): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  section,
  description,
  form: `${id}_form`,
  list: `${id}_list`,
  fields,
});

const related = (
  parent: string,
  child: string,
  fieldName: string,
  childrenName: string,
  whenParentRemoved: 'refuse' | 'clear' | 'remove',
  required = true,
): DesignChange => ({
  kind: 'add_relationship',
  id: `${child}_${parent}`,
  parent,
  child,
  fieldId: `${child}_${parent}_ref`,
  fieldName,
  childrenName,
  required,
  whenParentRemoved,
});

const column = (
  id: string,
  name: string,
  expression: string,
  summary: SavedQuery['columns'][number]['summary'] = null,
  digits: number | null = null,
): SavedQuery['columns'][number] => ({ id, name, expression, summary, digits });

export const demoDesign: readonly DesignChange[] = [
  table('keepers', 'Keepers', 'People and places', 'One record is one member of the co-operative.', [
    text('keeper_name', 'Name', { required: true }),
    text('keeper_mail', 'Mail', { unique: true }),
    text('keeper_phone', 'Phone'),
    date('keeper_since', 'Member since'),
  ]),
  table('apiaries', 'Apiaries', 'People and places', 'One record is one place where hives stand.', [
    text('apiary_name', 'Name', { required: true, unique: true }),
    { ...common, kind: 'choice', unique: false, id: 'apiary_region', name: 'Region', choices: choices('Moor', 'Valley', 'Coast', 'Orchards') },
    whole('apiary_height', 'Altitude, m'),
    { ...common, kind: 'decimal', digits: 2, id: 'apiary_rent', name: 'Rent a year' },
    { ...common, kind: 'yes_no', unique: false, id: 'apiary_water', name: 'Water nearby' },
  ]),
  table('hives', 'Hives', 'Hive work', 'One record is one colony with its boxes.', [
    text('hive_code', 'Code', { required: true, unique: true }),
    { ...common, kind: 'choice', unique: false, id: 'hive_kind', name: 'Box', choices: choices('National', 'Langstroth', 'Top bar') },
    whole('hive_queen', 'Queen year'),
    date('hive_since', 'Stands since'),
    longText('hive_notes', 'Notes'),
  ]),
  table('inspections', 'Inspections', 'Hive work', 'One record is one visit to one hive.', [
    whole('inspection_no', 'Number', { required: true, unique: true }),
    date('inspection_date', 'Date', { required: true, default: 'today()' }),
    whole('inspection_mites', 'Mites counted'),
    whole('inspection_bees', 'Bees sampled', { default: '300' }),
    { ...common, kind: 'yes_no', unique: false, id: 'inspection_queen', name: 'Queen seen', default: 'false' },
    { ...common, kind: 'choice', unique: false, id: 'inspection_stores', name: 'Stores', choices: choices('Low', 'Fair', 'Full') },
    { ...common, kind: 'decimal', digits: 1, id: 'inspection_warmth', name: 'Temperature, °C' },
    longText('inspection_notes', 'Notes'),
  ]),
  table('frames', 'Frames', 'Hive work', 'One record is one frame that was lifted during an inspection.', [
    whole('frame_place', 'Frame', { required: true }),
    whole('frame_brood', 'Brood, %'),
    whole('frame_stores', 'Stores, %'),
    text('frame_note', 'Note'),
  ]),
  related('keepers', 'apiaries', 'Keeper', 'Apiaries', 'refuse'),
  related('apiaries', 'hives', 'Apiary', 'Hives', 'refuse'),
  related('hives', 'inspections', 'Hive', 'Inspections', 'remove'),
  related('keepers', 'inspections', 'Inspected by', 'Inspections made', 'clear', false),
  related('inspections', 'frames', 'Inspection', 'Frames checked', 'remove'),
  {
    kind: 'change_table',
    table: 'inspections',
    caption: 'string(Number) + " · " + string(Date.day) + " " + substring(month of year(Date), 1, 3) + " " + string(Date.year)',
  },
  { kind: 'move_field', table: 'apiaries', field: 'apiaries_keepers_ref', to: 1 },
  { kind: 'move_field', table: 'hives', field: 'hives_apiaries_ref', to: 1 },
  { kind: 'move_field', table: 'inspections', field: 'inspections_hives_ref', to: 1 },
  { kind: 'move_field', table: 'inspections', field: 'inspections_keepers_ref', to: 3 },
  { kind: 'add_field', table: 'inspections', field: formula('inspection_rate', 'Mites per 100', 'decimal(Mites counted / Bees sampled * 100, 1)', 1) },
  { kind: 'move_field', table: 'inspections', field: 'inspection_rate', to: 6 },
  { kind: 'add_field', table: 'inspections', field: formula('inspection_region', 'Region', 'Hive.Apiary.Region') },
  { kind: 'add_field', table: 'inspections', field: formula('inspection_brood', 'Mean brood', 'mean(Frames checked.Brood)', 1) },
  { kind: 'add_field', table: 'hives', field: formula('hive_visits', 'Visits', 'count(Inspections)') },
  { kind: 'add_field', table: 'hives', field: formula('hive_seen', 'Last seen', 'max(Inspections.Date)') },
  {
    kind: 'change_table',
    table: 'inspections',
    checks: [
      { id: 'check_mites', condition: 'Mites counted <= Bees sampled', message: 'More mites were counted than bees sampled.' },
      { id: 'check_date', condition: 'Date <= today()', message: 'An inspection cannot lie in the future.' },
    ],
  },
  {
    kind: 'change_table',
    table: 'frames',
    checks: [{ id: 'check_brood', condition: 'Brood between 0 and 100', message: 'Brood is a part of the frame: between 0 and 100 percent.' }],
  },
  {
    kind: 'put_query',
    query: {
      id: 'mite_heavy',
      name: 'Mite-heavy apiaries',
      description: 'Where the counts of the last two years ran high.',
      section: 'Hive health',
      table: 'inspections',
      condition: 'Date >= today() - duration("P2Y") and Mites per 100 > 2',
      columns: [
        column('mh_apiary', 'Apiary', 'Hive.Apiary'),
        column('mh_keeper', 'Keeper', 'Hive.Apiary.Keeper'),
        column('mh_count', 'Number of inspections', '', 'count'),
        column('mh_average', 'Average mites', 'Mites per 100', 'average', 1),
        column('mh_latest', 'Latest', 'Date', 'largest'),
      ],
      order: [{ column: 'mh_average', direction: 'down' }],
      limit: null,
    },
  },
  {
    kind: 'put_query',
    query: {
      id: 'unseen_hives',
      name: 'Hives not seen lately',
      description: 'Nobody has opened them for sixty days.',
      section: 'Hive health',
      table: 'hives',
      condition: 'Last seen < today() - duration("P60D")',
      columns: [
        column('uh_code', 'Hive', 'Code'),
        column('uh_apiary', 'Apiary', 'Apiary'),
        column('uh_keeper', 'Keeper', 'Apiary.Keeper.Name'),
        column('uh_seen', 'Last seen', 'Last seen'),
      ],
      order: [{ column: 'uh_seen', direction: 'up' }],
      limit: null,
    },
  },
  { kind: 'put_tie', tie: { id: 'tie_keeper', name: 'Keeper', table: 'keepers' } },
  {
    kind: 'put_role',
    role: { id: 'coordinator', name: 'Coordinator', description: 'Runs the co-operative from day to day.', everything: true, menu: [], grants: [] },
  },
  {
    kind: 'put_role',
    role: {
      id: 'keeper',
      name: 'Keeper',
      description: 'Looks after apiaries of their own.',
      everything: false,
      menu: [
        { kind: 'list', table: 'hives' },
        { kind: 'list', table: 'inspections' },
        { kind: 'query', query: 'unseen_hives' },
        { kind: 'list', table: 'apiaries' },
        { kind: 'list', table: 'keepers' },
      ],
      grants: [
        grantOf('keeper_keepers', 'keepers', { hidden: ['keeper_phone', 'keeper_mail'] }),
        grantOf('keeper_self', 'keepers', { condition: 'Name = me.Keeper.Name', change: true, locked: ['keeper_since'] }),
        grantOf('keeper_apiaries', 'apiaries', { condition: 'Keeper = me.Keeper', change: true, locked: ['apiaries_keepers_ref', 'apiary_rent'] }),
        grantOf('keeper_hives', 'hives', { condition: 'Apiary.Keeper = me.Keeper', add: true, change: true, remove: true }),
        grantOf('keeper_inspections', 'inspections', { condition: 'Hive.Apiary.Keeper = me.Keeper', add: true, change: true, remove: true }),
        grantOf('keeper_frames', 'frames', { condition: 'Inspection.Hive.Apiary.Keeper = me.Keeper', add: true, change: true, remove: true }),
      ],
    },
  },
  { kind: 'remove_role', role: 'team' },
];
