/** Remedies, the hives they were given to, and the swarms that were seen. */
import type { DemoFile, Size } from '../files.js';
import { Random } from '../random.js';
import { apiaryName, day, hiveCode, keeperName, line } from './lines.js';

interface Remedy {
  readonly name: string;
  readonly against: string;
  readonly days: number;
  readonly wait: number | null;
  readonly dose: number;
  readonly price: string;
}

const remedies: readonly Remedy[] = [
  { name: 'Oxalic acid, trickled', against: 'Mites', days: 1, wait: null, dose: 35, price: '14.50 GBP' },
  { name: 'Formic acid pads', against: 'Mites', days: 21, wait: 14, dose: 60, price: '41.00 EUR' },
  { name: 'Thymol strips', against: 'Mites', days: 28, wait: 30, dose: 12.5, price: '29.90 EUR' },
  { name: 'Lactic acid, sprayed', against: 'Mites', days: 1, wait: 7, dose: 40, price: '11.25 GBP' },
  { name: 'Thymol in syrup', against: 'Nosema', days: 10, wait: 30, dose: 250, price: '135.00 SEK' },
  { name: 'Acetic acid for stored comb', against: 'Wax moth', days: 7, wait: null, dose: 100, price: '9.80 GBP' },
];

const heights = ['On the ground', 'Within reach', 'Within reach', 'Needs a ladder', 'Higher'] as const;
const spots = ['in the hedge', 'on the gate post', 'in an apple tree', 'under the eaves of the school', 'on the church wall', 'in a post box'] as const;
const swarmNotes = ['About the size of a football.', 'Very loud since noon.', 'Dogs and children about.', 'They hang quite still.'] as const;

export const treatmentFiles = (size: Size): readonly DemoFile[] => [
  {
    table: 'treatments',
    *lines() {
      yield line('Name', 'Against', 'Days in the hive', 'Days before honey is taken', 'Price of a pack');
      for (const remedy of remedies) yield line(remedy.name, remedy.against, remedy.days, remedy.wait, remedy.price);
    },
  },
  {
    table: 'trained',
    *lines() {
      const random = new Random(43);
      yield line('Treatment', 'Keeper');
      for (const remedy of remedies)
        for (let n = 0; n < size.keepers; n += 1) if (random.chance(remedy.against === 'Mites' ? 0.3 : 0.12)) yield line(remedy.name, keeperName(n));
    },
  },
  {
    table: 'hive_treatments',
    *lines() {
      const random = new Random(41);
      yield line('Hive', 'Treatment', 'Date', 'Dose, ml', 'Batch');
      for (let n = 0; n < size.treated; n += 1) {
        const remedy = random.pick(remedies);
        const year = random.whole(0, 2);
        // After the honey is taken, or in the broodless weeks of winter.
        const inYear = remedy.days === 1 ? random.whole(340, 364) : random.whole(220, 290);
        const on = Math.min(year * 365 + inYear, 1040);
        yield line(
          hiveCode(random.whole(0, size.hives - 1)),
          remedy.name,
          day(on),
          Math.max(0.5, random.around(remedy.dose, remedy.dose / 12)).toFixed(1),
          random.chance(0.9) ? `B${24 + year}-${String(random.whole(1, 60)).padStart(3, '0')}` : null,
        );
      }
    },
  },
  {
    table: 'swarms',
    *lines() {
      const random = new Random(42);
      yield line('Place', 'Seen on', 'How high', 'Reported by', 'Phone', 'Notes', 'Fetched by');
      for (let n = 0; n < size.swarms; n += 1) {
        yield line(
          `${apiaryName(random.whole(0, size.apiaries - 1))}, ${random.pick(spots)}`,
          day(365 * random.whole(0, 2) + random.whole(125, 190)),
          random.pick(heights),
          keeperName(size.keepers + random.whole(1, 60)),
          random.chance(0.7) ? `01632 ${random.whole(960_000, 960_999)}` : null,
          random.chance(0.5) ? random.pick(swarmNotes) : null,
          random.chance(0.85) ? keeperName(random.whole(0, size.keepers - 1)) : null,
        );
      }
    },
  },
];
