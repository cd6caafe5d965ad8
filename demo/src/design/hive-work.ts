/** People, places and the work at the hives. */
import type { DesignChange } from '@bibliona/core';
import { choice, date, decimal, duration, formula, longText, mailAddress, money, related, table, text, time, whole, yesNo } from './parts.js';

export const hiveWork: readonly DesignChange[] = [
  table('keepers', 'Keepers', 'People and places', 'One record is one member of the co-operative.', [
    text('keeper_name', 'Name', { required: true }),
    mailAddress('keeper_mail', 'Mail', { unique: true }),
    text('keeper_phone', 'Phone'),
    date('keeper_since', 'Member since'),
  ]),
  table('apiaries', 'Apiaries', 'People and places', 'One record is one place where hives stand.', [
    text('apiary_name', 'Name', { required: true, unique: true }),
    choice('apiary_region', 'Region', ['Moor', 'Valley', 'Coast', 'Orchards']),
    whole('apiary_height', 'Altitude, m'),
    money('apiary_rent', 'Rent a year'),
    yesNo('apiary_water', 'Water nearby'),
  ]),
  table('hives', 'Hives', 'Hive work', 'One record is one colony with its boxes.', [
    text('hive_code', 'Code', { required: true, unique: true }),
    choice('hive_kind', 'Box', ['National', 'Langstroth', 'Top bar']),
    whole('hive_queen', 'Queen year'),
    date('hive_since', 'Stands since'),
    longText('hive_notes', 'Notes'),
  ]),
  table('inspections', 'Inspections', 'Hive work', 'One record is one visit to one hive.', [
    whole('inspection_no', 'Number', { required: true, unique: true }),
    date('inspection_date', 'Date', { required: true, default: 'today()' }),
    whole('inspection_mites', 'Mites counted'),
    whole('inspection_bees', 'Bees sampled', { default: '300' }),
    yesNo('inspection_queen', 'Queen seen', 'false'),
    choice('inspection_stores', 'Stores', ['Low', 'Fair', 'Full']),
    decimal('inspection_warmth', 'Temperature, °C', 1),
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
  { kind: 'add_field', table: 'inspections', field: time('inspection_start', 'Started') },
  { kind: 'add_field', table: 'inspections', field: duration('inspection_took', 'Took') },
  { kind: 'move_field', table: 'inspections', field: 'inspection_start', to: 10 },
  { kind: 'move_field', table: 'inspections', field: 'inspection_took', to: 11 },
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
];
