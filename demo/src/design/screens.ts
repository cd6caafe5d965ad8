/** What is printed, and what is seen at a glance. */
import type { DesignChange, Report, RowSource, Tile } from '@bibliona/core';
import { column } from './parts.js';

const season = 'Date >= date("2026-01-01")';
const rows = (table: string, condition: string, columns: Extract<RowSource, { kind: 'table' }>['columns']): RowSource => ({
  kind: 'table',
  table,
  condition,
  columns,
});
const field = (id: string, share: number, total: Report['fields'][number]['total'] = null): Report['fields'][number] => ({
  column: id,
  share,
  wraps: true,
  total,
});

const harvestByApiary: Report = {
  id: 'harvest_report',
  name: 'Harvest by apiary',
  description: 'Season 2026: what was taken from each hive, and what the places gave.',
  section: 'Season',
  source: rows('harvests', season, [
    column('hr_apiary', 'Apiary', 'Hive.Apiary'),
    column('hr_date', 'Date', 'Date'),
    column('hr_hive', 'Hive', 'Hive'),
    column('hr_honey', 'Honey', 'Honey'),
    column('hr_lot', 'Lot', 'Lot'),
    column('hr_frames', 'Frames', 'Frames'),
    column('hr_water', 'Water, %', 'Water', null, 1),
    column('hr_kilos', 'Kilograms', 'Kilograms', null, 1),
  ]),
  fields: [
    field('hr_date', 7),
    field('hr_hive', 6),
    field('hr_honey', 10),
    field('hr_lot', 6),
    field('hr_frames', 5, 'sum'),
    field('hr_water', 6, 'average'),
    field('hr_kilos', 7, 'sum'),
  ],
  groups: [{ column: 'hr_apiary', direction: 'up', startsPage: false, keepsHeading: true }],
  order: [{ column: 'hr_date', direction: 'up' }],
  arrangement: 'columns',
  paper: { size: 'a4', turned: false },
};

const ordersByShop: Report = {
  id: 'orders_report',
  name: 'Orders by shop',
  description: 'Season 2026, each shop on a page of its own.',
  section: 'Selling',
  source: rows('order_lines', 'Order.Date >= date("2026-01-01")', [
    column('or_shop', 'Shop', 'Order.Shop'),
    column('or_order', 'Order', 'Order'),
    column('or_date', 'Date', 'Order.Date'),
    column('or_honey', 'Honey', 'Honey'),
    column('or_jars', 'Jars', 'Jars'),
    column('or_price', 'Price of a jar', 'Price of a jar', null, 2),
    column('or_amount', 'Amount', 'Amount', null, 2),
  ]),
  fields: [field('or_date', 7), field('or_honey', 12), field('or_jars', 5, 'sum'), field('or_price', 7), field('or_amount', 8, 'sum')],
  groups: [
    { column: 'or_shop', direction: 'up', startsPage: true, keepsHeading: true },
    { column: 'or_order', direction: 'up', startsPage: false, keepsHeading: true },
  ],
  order: [{ column: 'or_honey', direction: 'up' }],
  arrangement: 'columns',
  paper: { size: 'a4', turned: false },
};

const swarmsFetched: Report = {
  id: 'swarms_report',
  name: 'Swarms handed over',
  description: 'Who was given which swarm, with their signature.',
  section: 'People and places',
  source: rows('swarms', 'Handed over != null', [
    column('sr_no', 'Report', 'Report'),
    column('sr_place', 'Place', 'Place'),
    column('sr_seen', 'Seen on', 'Seen on'),
    column('sr_by', 'Fetched by', 'Fetched by'),
    column('sr_signed', 'Handed over', 'Handed over'),
  ]),
  fields: [field('sr_no', 6), field('sr_place', 12), field('sr_seen', 7), field('sr_by', 8), { ...field('sr_signed', 10), wraps: true }],
  groups: [],
  order: [{ column: 'sr_seen', direction: 'down' }],
  arrangement: 'columns',
  paper: { size: 'a4', turned: false },
};

const figure = (id: string, name: string, x: number, source: RowSource, more: Partial<Extract<Tile, { kind: 'figure' }>>): Tile => ({
  kind: 'figure',
  id,
  name,
  place: { x, y: 0, w: 3, h: 5 },
  source,
  column: null,
  summary: 'count',
  target: null,
  judgement: null,
  ...more,
});

const tiles: readonly Tile[] = [
  figure('sg_kilos', 'Harvest so far, kg', 0, rows('harvests', season, [column('sg_kg', 'Kilograms', 'Kilograms', null, 1)]), {
    column: 'sg_kg',
    summary: 'sum',
    target: 14_000,
    judgement: { better: 'higher', fairFrom: 9_000, goodFrom: 12_000 },
  }),
  figure('sg_released', 'Lots released', 3, rows('lots', 'Status = "Released" and Filled >= date("2026-01-01")', []), {
    target: 60,
    judgement: { better: 'higher', fairFrom: 35, goodFrom: 50 },
  }),
  figure('sg_mites', 'Mites per 100, average', 6, rows('inspections', season, [column('sg_rate', 'Mites per 100', 'Mites per 100', null, 1)]), {
    column: 'sg_rate',
    summary: 'average',
    target: 2,
    judgement: { better: 'lower', fairFrom: 3, goodFrom: 2 },
  }),
  figure('sg_unpaid', 'Orders not paid', 9, rows('orders', 'Paid = false', []), {
    target: 20,
    judgement: { better: 'lower', fairFrom: 60, goodFrom: 30 },
  }),
  {
    kind: 'line',
    id: 'sg_months',
    name: 'Harvest month by month, kg',
    place: { x: 0, y: 5, w: 8, h: 8 },
    source: rows('harvests', '', [column('sg_month', 'Month', 'date(Date.year, Date.month, 1)'), column('sg_taken', 'Kilograms', 'Kilograms', 'sum', 1)]),
    label: 'sg_month',
    value: 'sg_taken',
    order: 'label',
    most: 60,
  },
  {
    kind: 'bars',
    id: 'sg_apiaries',
    name: 'Harvest by apiary, kg',
    place: { x: 8, y: 5, w: 4, h: 16 },
    source: rows('harvests', season, [column('sg_apiary', 'Apiary', 'Hive.Apiary'), column('sg_gave', 'Kilograms', 'Kilograms', 'sum', 1)]),
    label: 'sg_apiary',
    value: 'sg_gave',
    order: 'value',
    most: 13,
  },
  {
    kind: 'bars',
    id: 'sg_status',
    name: 'Lots by status',
    place: { x: 0, y: 13, w: 4, h: 8 },
    source: rows('lots', 'Filled >= date("2026-01-01")', [column('sg_stands', 'Status', 'Status'), column('sg_lots', 'Lots', '', 'count')]),
    label: 'sg_stands',
    value: 'sg_lots',
    order: 'label',
    most: 10,
  },
  {
    kind: 'bars',
    id: 'sg_honey',
    name: 'Sold by honey, season 2026',
    place: { x: 4, y: 13, w: 4, h: 8 },
    source: rows('order_lines', 'Order.Date >= date("2026-01-01")', [column('sg_kind', 'Honey', 'Honey'), column('sg_sold', 'Amount', 'Amount', 'sum', 2)]),
    label: 'sg_kind',
    value: 'sg_sold',
    order: 'value',
    most: 10,
  },
];

export const screens: readonly DesignChange[] = [
  { kind: 'put', part: 'report', value: harvestByApiary },
  { kind: 'put', part: 'report', value: ordersByShop },
  { kind: 'put', part: 'report', value: swarmsFetched },
  { kind: 'put', part: 'dashboard', value: { id: 'season', name: 'Season at a glance', description: '', section: 'My day', tiles } },
];
