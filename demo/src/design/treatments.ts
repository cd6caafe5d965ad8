/** What hives are treated with, and the swarms that people report. */
import type { DesignChange } from '@bibliona/core';
import {
  anyMoney,
  choice,
  date,
  decimal,
  formula,
  link,
  longText,
  person,
  phone,
  related,
  richText,
  signature,
  table,
  text,
  whole,
  yearlyNumber,
} from './parts.js';

export const treatments: readonly DesignChange[] = [
  table('treatments', 'Treatments', 'Hive work', 'One record is one remedy that the co-operative uses.', [
    text('treatment_name', 'Name', { required: true, unique: true }),
    choice('treatment_against', 'Against', ['Mites', 'Nosema', 'Wax moth'], { required: true }),
    whole('treatment_days', 'Days in the hive', { required: true }),
    whole('treatment_wait', 'Days before honey is taken'),
    anyMoney('treatment_price', 'Price of a pack'),
    richText('treatment_how', 'How it is given'),
  ]),
  table('hive_treatments', 'Hive treatments', 'Hive work', 'One record is one remedy given to one hive.', [
    date('given_date', 'Date', { required: true, default: 'today()' }),
    decimal('given_dose', 'Dose, ml', 1),
    text('given_batch', 'Batch'),
  ]),
  related('hives', 'hive_treatments', 'Hive', 'Treated with', 'remove'),
  related('treatments', 'hive_treatments', 'Treatment', 'Given to', 'refuse'),
  { kind: 'move_field', table: 'hive_treatments', field: 'hive_treatments_hives_ref', to: 0 },
  { kind: 'move_field', table: 'hive_treatments', field: 'hive_treatments_treatments_ref', to: 1 },
  { kind: 'change_table', table: 'hive_treatments', caption: 'Treatment.Name + " · " + Hive.Code' },
  {
    kind: 'add_field',
    table: 'hive_treatments',
    field: formula('given_until', 'In the hive until', 'Date + duration("P1D") * Treatment.Days in the hive'),
  },
  {
    kind: 'change_table',
    table: 'hive_treatments',
    checks: [{ id: 'check_dose', condition: 'Dose ml > 0', message: 'A dose is more than nothing.' }],
  },
  link('trained', 'Treatments and keepers', ['treatments', 'Treatment', 'Trained keepers'], ['keepers', 'Keeper', 'Trained for']),
  table('swarms', 'Swarm reports', 'People and places', 'One record is one swarm that somebody saw.', [
    text('swarm_place', 'Place', { required: true }),
    date('swarm_seen', 'Seen on', { required: true, default: 'today()' }),
    choice('swarm_height', 'How high', ['On the ground', 'Within reach', 'Needs a ladder', 'Higher'], { required: true }),
    text('swarm_by', 'Reported by'),
    phone('swarm_phone', 'Phone'),
    longText('swarm_notes', 'Notes'),
    yearlyNumber('swarm_no', 'Report', 'S-{year}-{000}'),
    person('swarm_for', 'Assigned to'),
    signature('swarm_signed', 'Handed over'),
  ]),
  related('keepers', 'swarms', 'Fetched by', 'Swarms fetched', 'clear', false),
];
