/** A school garden: beds, what grows in them, and what was picked. */
import { plainList } from '@bibliona/core';
import { choice, column, date, decimal, formula, longText, related, table, text, whole } from '../design/parts.js';
import { add, daysAfter, type Starter } from './starter.js';

export const schoolGarden: Starter = {
  name: 'School garden',
  description: 'Which class sows what in which bed, who waters when, and how much is harvested.',
  design: [
    table('classes', 'Classes', 'School', 'One record is one class with its teacher.', [
      text('class_name', 'Class', { required: true, unique: true }),
      text('class_teacher', 'Teacher'),
      whole('class_pupils', 'Pupils'),
    ]),
    table('beds', 'Beds', 'Garden', 'One record is one bed.', [
      text('bed_name', 'Bed', { required: true, unique: true }),
      decimal('bed_area', 'Area, m²', 1),
      choice('bed_sun', 'Sun', ['Full sun', 'Half shade', 'Shade']),
    ]),
    table('crops', 'Crops', 'Garden', 'One record is one sort of plant.', [
      text('crop_name', 'Crop', { required: true, unique: true }),
      choice('crop_kind', 'Kind', ['Vegetable', 'Herb', 'Flower', 'Fruit'], { required: true }),
      whole('crop_days', 'Days to harvest'),
      longText('crop_notes', 'How to grow it'),
    ]),
    table('sowings', 'Sowings', 'Garden', 'One record is one crop in one bed, sown on one day.', [
      date('sowing_date', 'Sown on', { required: true, default: 'today()' }),
      choice('sowing_state', 'State', ['Sown: gold', 'Growing: olive', 'Harvested: green', 'Lost: red'], { required: true, default: '"Sown"' }),
      longText('sowing_notes', 'Notes'),
    ]),
    table('harvests', 'Harvests', 'Garden', 'One record is what was picked on one day.', [
      date('harvest_date', 'Date', { required: true, default: 'today()' }),
      decimal('harvest_kilos', 'Kilograms', 2, { required: true }),
    ]),
    related('beds', 'sowings', 'Bed', 'Sowings', 'refuse'),
    related('crops', 'sowings', 'Crop', 'Sowings', 'refuse'),
    related('classes', 'sowings', 'Class', 'Sowings', 'clear', false),
    related('sowings', 'harvests', 'Sowing', 'Harvests', 'remove'),
    { kind: 'change_table', table: 'sowings', caption: 'Crop.Crop + " in " + Bed.Bed' },
    { kind: 'change_table', table: 'harvests', caption: 'string(Date)' },
    { kind: 'add_field', table: 'sowings', field: formula('sowing_ready', 'Ready about', 'Sown on + duration("P1D") * Crop.Days to harvest') },
    { kind: 'add_field', table: 'sowings', field: formula('sowing_kilos', 'Harvested, kg', 'sum(Harvests.Kilograms)', 2) },
    { kind: 'add_field', table: 'beds', field: formula('bed_sowings', 'Growing now', 'count(Sowings[State = "Growing"])') },
    {
      kind: 'put',
      part: 'list',
      value: {
        ...plainList,
        id: 'sowings_board',
        table: 'sowings',
        name: 'Beds at work',
        roles: [],
        isDefault: false,
        columns: ['sowings_crops_ref', 'sowings_beds_ref', 'sowings_classes_ref', 'sowing_date', 'sowing_ready'],
        arrangement: { kind: 'board', by: 'sowing_state' },
        quickFilters: ['sowings_classes_ref', 'sowings_beds_ref'],
      },
    },
    {
      kind: 'put',
      part: 'query',
      value: {
        id: 'harvest_by_crop',
        name: 'Harvest by crop',
        description: 'What gives most.',
        section: '',
        table: 'harvests',
        condition: '',
        columns: [
          column('hc_crop', 'Crop', 'Sowing.Crop'),
          column('hc_kilos', 'Kilograms', 'Kilograms', 'sum', 2),
          column('hc_latest', 'Latest', 'Date', 'largest'),
        ],
        order: [{ column: 'hc_kilos', direction: 'down' }],
        limit: null,
      },
    },
  ],
  records: (today) => [
    add('classes', 'c3', { class_name: '3b', class_teacher: 'Ms Alder', class_pupils: 24 }),
    add('classes', 'c5', { class_name: '5a', class_teacher: 'Mr Finch', class_pupils: 21 }),
    add('beds', 'wall', { bed_name: 'By the wall', bed_area: '6.5', bed_sun: 'full_sun' }),
    add('beds', 'pond', { bed_name: 'At the pond', bed_area: '4', bed_sun: 'half_shade' }),
    add('crops', 'radish', { crop_name: 'Radishes', crop_kind: 'vegetable', crop_days: 28, crop_notes: 'A finger deep, a hand apart.' }),
    add('crops', 'beans', { crop_name: 'Runner beans', crop_kind: 'vegetable', crop_days: 75 }),
    add('crops', 'mint', { crop_name: 'Mint', crop_kind: 'herb', crop_days: 40 }),
    add('sowings', 's1', {
      sowings_beds_ref: { added: 'wall' },
      sowings_crops_ref: { added: 'radish' },
      sowings_classes_ref: { added: 'c3' },
      sowing_date: daysAfter(today, -35),
      sowing_state: 'harvested',
    }),
    add('sowings', 's2', {
      sowings_beds_ref: { added: 'wall' },
      sowings_crops_ref: { added: 'beans' },
      sowings_classes_ref: { added: 'c5' },
      sowing_date: daysAfter(today, -40),
      sowing_state: 'growing',
    }),
    add('sowings', 's3', {
      sowings_beds_ref: { added: 'pond' },
      sowings_crops_ref: { added: 'mint' },
      sowings_classes_ref: { added: 'c3' },
      sowing_date: daysAfter(today, -2),
    }),
    add('harvests', 'h1', { harvests_sowings_ref: { added: 's1' }, harvest_date: daysAfter(today, -6), harvest_kilos: '1.20' }),
    add('harvests', 'h2', { harvests_sowings_ref: { added: 's1' }, harvest_date: daysAfter(today, -3), harvest_kilos: '0.85' }),
  ],
};
