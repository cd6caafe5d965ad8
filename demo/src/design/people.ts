/** Who can see and do what. */
import { grantOf, type DesignChange, type Page } from '@bibliona/core';

const coordinatorMenu: readonly Page[] = [
  { kind: 'dashboard', dashboard: 'season' },
  ...['keepers', 'apiaries', 'hives', 'inspections', 'hive_treatments', 'harvests', 'lots', 'lab_results', 'shops', 'orders', 'swarms'].map((table): Page => ({
    kind: 'list',
    list: `${table}_list`,
  })),
  { kind: 'list', list: 'lots_board' },
  { kind: 'list', list: 'inspections_calendar' },
  { kind: 'list', list: 'harvests_season' },
  { kind: 'list', list: 'harvest_chart' },
  { kind: 'list', list: 'apiary_cards' },
  { kind: 'list', list: 'apiary_map' },
  { kind: 'form', form: 'inspection_quick' },
  { kind: 'query', query: 'mite_heavy' },
  { kind: 'query', query: 'unseen_hives' },
  { kind: 'report', report: 'harvest_report' },
  { kind: 'report', report: 'orders_report' },
  { kind: 'report', report: 'swarms_report' },
];

export const access: readonly DesignChange[] = [
  { kind: 'put', part: 'tie', value: { id: 'tie_keeper', name: 'Keeper', table: 'keepers' } },
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'coordinator',
      name: 'Coordinator',
      description: 'Runs the co-operative from day to day.',
      everything: true,
      menu: coordinatorMenu,
      grants: [],
    },
  },
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'keeper',
      name: 'Keeper',
      description: 'Looks after apiaries of their own.',
      everything: false,
      menu: [
        { kind: 'list', list: 'hives_list' },
        { kind: 'list', list: 'inspections_list' },
        { kind: 'list', list: 'hive_treatments_list' },
        { kind: 'list', list: 'harvests_list' },
        { kind: 'query', query: 'unseen_hives' },
        { kind: 'report', report: 'harvest_report' },
        { kind: 'list', list: 'apiaries_list' },
        { kind: 'list', list: 'swarms_list' },
        { kind: 'list', list: 'keepers_list' },
      ],
      grants: [
        grantOf('keeper_keepers', 'keepers', { hidden: ['keeper_phone', 'keeper_mail'] }),
        grantOf('keeper_self', 'keepers', { condition: 'Name = me.Keeper.Name', change: true, locked: ['keeper_since'] }),
        grantOf('keeper_apiaries', 'apiaries', { condition: 'Keeper = me.Keeper', change: true, locked: ['apiaries_keepers_ref', 'apiary_rent'] }),
        grantOf('keeper_hives', 'hives', { condition: 'Apiary.Keeper = me.Keeper', export: true, add: true, change: true, remove: true }),
        grantOf('keeper_inspections', 'inspections', { condition: 'Hive.Apiary.Keeper = me.Keeper', export: true, add: true, change: true, remove: true }),
        grantOf('keeper_harvests', 'harvests', { condition: 'Hive.Apiary.Keeper = me.Keeper', export: true, add: true, change: true, remove: true }),
        grantOf('keeper_treatments', 'treatments'),
        grantOf('keeper_given', 'hive_treatments', { condition: 'Hive.Apiary.Keeper = me.Keeper', export: true, add: true, change: true, remove: true }),
        grantOf('keeper_swarms', 'swarms', { change: true, locked: ['swarm_place', 'swarm_seen', 'swarm_by', 'swarm_phone'] }),
        grantOf('keeper_lots', 'lots', { hidden: ['lot_notes'] }),
        grantOf('keeper_frames', 'frames', { condition: 'Inspection.Hive.Apiary.Keeper = me.Keeper', add: true, change: true, remove: true }),
      ],
    },
  },
  { kind: 'put', part: 'tie', value: { id: 'tie_shop', name: 'Shop', table: 'shops' } },
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'lab',
      name: 'Lab',
      description: 'Tests the lots that are in the laboratory.',
      everything: false,
      menu: [
        { kind: 'list', list: 'lots_list' },
        { kind: 'list', list: 'lab_results_list' },
      ],
      grants: [
        grantOf('lab_lots', 'lots', {
          condition: 'Status in ("In lab", "More info", "On hold")',
          change: true,
          locked: ['lot_code', 'lot_honey', 'lot_filled', 'lot_released', 'lot_status'],
        }),
        grantOf('lab_results', 'lab_results', { add: true, change: true, condition: 'Lot.Status in ("In lab", "More info", "On hold")' }),
      ],
    },
  },
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'shop',
      name: 'Shop',
      description: 'Orders honey, and sees what it ordered.',
      everything: false,
      menu: [
        { kind: 'list', list: 'orders_list' },
        { kind: 'report', report: 'orders_report' },
      ],
      grants: [
        grantOf('shop_self', 'shops', { condition: 'Name = me.Shop.Name', change: true, locked: ['shop_name', 'shop_since'] }),
        grantOf('shop_orders', 'orders', { condition: 'Shop = me.Shop', export: true, add: true, change: true, locked: ['order_sent', 'order_paid'] }),
        grantOf('shop_lines', 'order_lines', { condition: 'Order.Shop = me.Shop', add: true, change: true, remove: true }),
      ],
    },
  },
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'visitor',
      name: 'Visitor',
      description: 'Reports swarms, and sees nothing of the co-operative.',
      everything: false,
      menu: [{ kind: 'form', form: 'swarms_form' }],
      grants: [grantOf('visitor_swarms', 'swarms', { see: false, add: true, locked: ['swarms_keepers_ref', 'swarm_for', 'swarm_signed'] })],
    },
  },
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'website',
      name: 'Readers of the website',
      description: 'See what is published there: lots that are released.',
      everything: false,
      menu: [],
      grants: [grantOf('website_lots', 'lots', { condition: 'Status = "Released"', hidden: ['lot_notes'] })],
    },
  },
  { kind: 'remove', part: 'role', id: 'team' },
];
