/** Lists and forms for one kind of work each, besides those that every table opens with. */
import { plainList, type DesignChange, type Form, type List } from '@bibliona/core';

const list = (id: string, table: string, name: string, columns: readonly string[], more: Partial<List>): DesignChange => ({
  kind: 'put',
  part: 'list',
  value: { ...plainList, id, table, name, roles: [], isDefault: false, columns, ...more },
});

const field = (id: string, width: number, more: Partial<Extract<Form['items'][number], { kind: 'field' }>> = {}) =>
  ({ kind: 'field', field: id, width, ...more }) as const;

export const lists: readonly DesignChange[] = [
  list(
    'hives_list',
    'hives',
    'Hives',
    ['hive_code', 'hives_apiaries_ref', 'hive_kind', 'hive_queen', 'hive_since', 'hive_photos', 'hive_visits', 'hive_seen'],
    {
      isDefault: true,
      quickFilters: ['hive_kind', 'hive_queen', 'hives_apiaries_ref'],
      tones: [{ id: 'hive_never', name: 'Never inspected', condition: 'Visits = 0', tone: 'gold' }],
    },
  ),
  list('lots_board', 'lots', 'Lots on their way', ['lot_code', 'lot_honey', 'lot_filled', 'lot_kilos', 'lot_tests'], {
    arrangement: { kind: 'board', by: 'lot_status' },
    sums: ['lot_kilos'],
    quickFilters: ['lot_honey', 'lot_filled'],
    order: [{ field: 'lot_filled', direction: 'down' }],
  }),
  list('inspections_calendar', 'inspections', 'Calendar of inspections', ['inspection_date', 'inspections_hives_ref', 'inspection_stores', 'inspection_rate'], {
    arrangement: { kind: 'calendar', day: 'inspection_date' },
    quickFilters: ['inspections_keepers_ref', 'inspection_stores'],
    tones: [{ id: 'many_mites', name: 'Three mites or more per 100 bees', condition: 'Mites per 100 >= 3', tone: 'red' }],
  }),
  list('treatments_timeline', 'hive_treatments', 'Treatments over time', ['hive_treatments_hives_ref', 'given_date', 'given_until', 'given_dose'], {
    arrangement: { kind: 'timeline', from: 'given_date', to: 'given_until', lane: 'hive_treatments_treatments_ref' },
    quickFilters: ['hive_treatments_treatments_ref'],
  }),
  list(
    'harvests_season',
    'harvests',
    'Harvest by month',
    ['harvest_date', 'harvests_hives_ref', 'harvest_honey', 'harvest_frames', 'harvest_water', 'harvest_kilos'],
    {
      condition: 'Date >= date("2026-01-01")',
      groupBy: ['harvest_date', 'harvest_honey'],
      sums: ['harvest_frames', 'harvest_kilos'],
      quickFilters: ['harvest_apiary'],
      order: [
        { field: 'harvest_date', direction: 'down' },
        { field: 'harvest_kilos', direction: 'down' },
      ],
    },
  ),
  list('harvest_chart', 'harvests', 'Honey over the months', ['harvest_date', 'harvests_hives_ref', 'harvest_honey', 'harvest_kilos'], {
    arrangement: { kind: 'chart', by: 'harvest_date', sum: 'harvest_kilos' },
    quickFilters: ['harvest_honey', 'harvest_apiary'],
    order: [{ field: 'harvest_date', direction: 'down' }],
  }),
  list(
    'apiary_cards',
    'apiaries',
    'Apiaries at a glance',
    ['apiary_name', 'apiaries_keepers_ref', 'apiary_region', 'apiary_height', 'apiary_forage', 'apiary_water'],
    {
      arrangement: { kind: 'cards' },
      quickFilters: ['apiary_region', 'apiaries_keepers_ref'],
    },
  ),
  list('apiary_map', 'apiaries', 'Map of apiaries', ['apiary_name', 'apiaries_keepers_ref', 'apiary_region', 'apiary_height'], {
    arrangement: { kind: 'map', place: 'apiary_place' },
    quickFilters: ['apiary_region'],
    tones: [{ id: 'apiary_dry', name: 'No water nearby', condition: 'Water nearby = false', tone: 'gold' }],
  }),
  {
    kind: 'put',
    part: 'form',
    value: {
      id: 'apiary_hives',
      table: 'apiaries',
      name: 'Apiary and its hives',
      roles: [],
      isDefault: false,
      items: [
        field('apiary_name', 6),
        field('apiary_region', 3),
        field('apiaries_keepers_ref', 3),
        {
          kind: 'children',
          relationship: 'hives_apiaries',
          columns: ['hive_code', 'hive_kind', 'hive_queen', 'hive_since'],
          below: [
            { list: 'inspections_list', by: 'inspections_hives_ref' },
            { list: 'harvests_season', by: 'harvests_hives_ref' },
          ],
        },
      ],
    },
  },
  {
    kind: 'put',
    part: 'form',
    value: {
      id: 'inspection_quick',
      table: 'inspections',
      name: 'Quick inspection',
      roles: [],
      isDefault: false,
      items: [
        { kind: 'text', id: 'quick_words', text: 'For the walk along the hives: what matters of each, one after the other.', width: 12 },
        field('inspection_no', 3),
        field('inspections_hives_ref', 6),
        field('inspection_date', 3),
        field('inspections_keepers_ref', 6, { fill: 'Hive.Apiary.Keeper' }),
        { kind: 'heading', id: 'quick_seen', text: 'What was seen' },
        field('inspection_queen', 3),
        field('inspection_stores', 3),
        field('inspection_mites', 3),
        field('inspection_bees', 3, { shownIf: 'Mites counted != null', requiredIf: 'Mites counted != null' }),
        field('inspection_notes', 12, { label: 'Notes, if no queen was seen', shownIf: 'Queen seen = false' }),
      ],
      afterAdding: 'new',
    },
  },
];

/** Forms whose buttons run automations, which are there before them. */
export const formsWithButtons: readonly DesignChange[] = [
  {
    kind: 'put',
    part: 'form',
    value: {
      id: 'hive_glance',
      table: 'hives',
      name: 'Hive at a glance',
      roles: [],
      isDefault: false,
      items: [
        field('hive_code', 3),
        field('hive_queen', 3),
        field('hives_apiaries_ref', 6),
        { kind: 'parent', id: 'glance_region', through: ['hives_apiaries_ref'], field: 'apiary_region', width: 3 },
        { kind: 'parent', id: 'glance_forage', through: ['hives_apiaries_ref'], field: 'apiary_forage', width: 6 },
        {
          kind: 'parent',
          id: 'glance_phone',
          through: ['hives_apiaries_ref', 'apiaries_keepers_ref'],
          field: 'keeper_phone',
          width: 3,
          label: 'Phone of its keeper',
        },
        { kind: 'button', id: 'glance_visit', name: 'Add an inspection', does: { kind: 'add', relationship: 'inspections_hives' }, width: 3 },
        { kind: 'button', id: 'glance_ask', name: 'Ask for a visit', does: { kind: 'run', automation: 'visit_asked' }, width: 3 },
        { kind: 'button', id: 'glance_board', name: 'Season', does: { kind: 'page', page: { kind: 'dashboard', dashboard: 'season' } }, width: 3 },
        { kind: 'list', id: 'glance_visits', list: 'inspections_calendar', by: 'inspections_hives_ref', rows: 5 },
        { kind: 'list', id: 'glance_chart', list: 'harvest_chart', by: 'harvests_hives_ref', rows: 5 },
        { kind: 'list', id: 'glance_honey', list: 'harvests_season', by: 'harvests_hives_ref', rows: 5 },
      ],
    },
  },
];

/** What anyone can fill in or see, through roles of the app. */
export const published: readonly DesignChange[] = [
  list('lots_ready', 'lots', 'Honey in the jar', ['lot_honey', 'lot_code', 'lot_filled'], {
    order: [{ field: 'lot_filled', direction: 'down' }],
    public: { role: 'website', sites: ['https://quillmoor.example'] },
  }),
  {
    kind: 'put',
    part: 'form',
    value: {
      id: 'swarm_public',
      table: 'swarms',
      name: 'Report a swarm',
      roles: [],
      isDefault: false,
      items: [
        { kind: 'text', id: 'swarm_words', text: 'Tell us where the bees are. A beekeeper comes to fetch them, mostly within the hour.', width: 12 },
        field('swarm_place', 6),
        field('swarm_height', 6),
        field('swarm_seen', 6),
        { kind: 'heading', id: 'swarm_who', text: 'How we reach you' },
        field('swarm_by', 6, { label: 'Your name' }),
        field('swarm_phone', 6),
        field('swarm_notes', 12, { label: 'Anything that helps to find them' }),
      ],
      thanks: 'Thank you. We call you before we set out.',
      public: {
        role: 'visitor',
        question: { text: 'What do bees make?', answers: ['honey', 'wax'] },
        closedText: 'Swarms are reported from April to August. See you then.',
        sites: ['https://quillmoor.example'],
      },
    },
  },
];
