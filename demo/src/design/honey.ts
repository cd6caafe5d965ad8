/** Harvests, the lots they fill, and what the laboratory finds in them. */
import type { DesignChange } from '@bibliona/core';
import { choice, date, decimal, formula, longText, related, table, text, whole, yesNo } from './parts.js';

export const honeys = ['Orchard', 'Meadow', 'Lime blossom', 'Heather', 'Cut comb'] as const;

export const honey: readonly DesignChange[] = [
  table('lots', 'Lots', 'Honey', 'One record is one filling that is tested, labelled and sold together.', [
    text('lot_code', 'Lot', { required: true, unique: true }),
    choice('lot_honey', 'Honey', honeys),
    date('lot_filled', 'Filled'),
    choice('lot_status', 'Status', ['Draft', 'In lab', 'Released', 'On hold', 'More info', 'Rejected'], { required: true, default: '"Draft"' }),
    date('lot_released', 'Released on'),
    longText('lot_notes', 'Notes'),
  ]),
  table('harvests', 'Harvests', 'Honey', 'One record is what was taken from one hive on one day.', [
    whole('harvest_no', 'Number', { required: true, unique: true }),
    date('harvest_date', 'Date', { required: true, default: 'today()' }),
    choice('harvest_honey', 'Honey', honeys),
    whole('harvest_frames', 'Frames'),
    decimal('harvest_water', 'Water, %', 1),
    decimal('harvest_kilos', 'Kilograms', 1),
  ]),
  table('lab_results', 'Lab results', 'Honey', 'One record is one test of one lot.', [
    choice('result_test', 'Test', ['Water', 'HMF', 'Diastase', 'Residues'], { required: true }),
    date('result_date', 'Date'),
    decimal('result_value', 'Value', 2),
    yesNo('result_passed', 'Passed'),
    text('result_note', 'Note'),
  ]),
  related('hives', 'harvests', 'Hive', 'Harvests', 'remove'),
  related('lots', 'harvests', 'Lot', 'Harvests', 'clear', false),
  related('lots', 'lab_results', 'Lot', 'Lab results', 'remove'),
  { kind: 'move_field', table: 'harvests', field: 'harvests_hives_ref', to: 1 },
  { kind: 'move_field', table: 'lab_results', field: 'lab_results_lots_ref', to: 0 },
  { kind: 'change_table', table: 'harvests', caption: '"Harvest " + string(Number)' },
  { kind: 'change_table', table: 'lab_results', caption: 'Test' },
  { kind: 'add_field', table: 'harvests', field: formula('harvest_apiary', 'Apiary', 'Hive.Apiary.Name') },
  { kind: 'add_field', table: 'lots', field: formula('lot_kilos', 'Kilograms', 'sum(Harvests.Kilograms)', 1) },
  { kind: 'add_field', table: 'lots', field: formula('lot_tests', 'Tests', 'count(Lab results)') },
  {
    kind: 'change_table',
    table: 'harvests',
    checks: [{ id: 'check_water', condition: 'Water between 10 and 30', message: 'Honey has between 10 and 30 percent of water.' }],
  },
];
