/** Lots, the harvests that fill them, and what the laboratory finds. */
import type { DemoFile, Size } from '../files.js';
import { honeys } from '../design/honey.js';
import { Random } from '../random.js';
import { day, hiveCode, line } from './lines.js';

// Days since 2024 of the first day of the seasons.
const seasons = [0, 366, 731] as const;
const [firstHarvest, lastHarvest] = [140, 265];

interface Lot {
  readonly code: string;
  readonly honey: string;
  readonly filled: number;
  readonly status: string;
}

/** Lots of earlier seasons have come to their end; of the last one some are still on their way. */
function lotsOf(size: Size): readonly Lot[] {
  const random = new Random(21);
  return Array.from({ length: size.lots }, (_, n): Lot => {
    const season = Math.min(Math.floor((n / size.lots) * seasons.length), seasons.length - 1);
    const inSeason = (n / size.lots) * seasons.length - season;
    const filled = (seasons[season] ?? 0) + firstHarvest + 12 + Math.round(inSeason * (lastHarvest - firstHarvest));
    const isOld = season < seasons.length - 1 || inSeason < 0.55;
    const status = isOld
      ? random.chance(0.93)
        ? 'Released'
        : 'Rejected'
      : random.pick(['Released', 'Released', 'In lab', 'In lab', 'On hold', 'More info', 'Draft']);
    return { code: String(101 + n).padStart(4, '0'), honey: random.pick(honeys), filled, status };
  });
}

const tests = [
  { name: 'Water', usual: 17.6, spread: 0.9, limit: 20, digits: 1 },
  { name: 'HMF', usual: 9, spread: 5, limit: 40, digits: 1 },
  { name: 'Diastase', usual: 18, spread: 4, limit: 60, digits: 1 },
] as const;

export const honeyFiles = (size: Size): readonly DemoFile[] => [
  {
    table: 'lots',
    *lines() {
      yield line('Lot', 'Honey', 'Filled', 'Status');
      for (const lot of lotsOf(size)) yield line(lot.code, lot.honey, day(lot.filled), lot.status);
    },
  },
  {
    table: 'harvests',
    *lines() {
      const random = new Random(22);
      const lots = lotsOf(size);
      yield line('Number', 'Hive', 'Date', 'Honey', 'Frames', 'Water, %', 'Kilograms', 'Lot');
      for (let n = 0; n < size.harvests; n += 1) {
        const season = seasons[Math.min(Math.floor((n / size.harvests) * seasons.length), seasons.length - 1)] ?? 0;
        const on = season + random.whole(firstHarvest, lastHarvest);
        const frames = random.whole(6, 26);
        const near = lots.filter((lot) => lot.filled >= on && lot.filled <= on + 40);
        const lot = near.length > 0 && random.chance(0.96) ? random.pick(near) : null;
        yield line(
          n + 1,
          hiveCode(random.whole(0, size.hives - 1)),
          day(on),
          lot?.honey ?? random.pick(honeys),
          frames,
          Math.max(14.5, random.around(17.5, 1.1)).toFixed(1),
          (frames * random.around(1.05, 0.14)).toFixed(1),
          lot?.code ?? null,
        );
      }
    },
  },
  {
    table: 'lab_results',
    *lines() {
      const random = new Random(23);
      yield line('Lot', 'Test', 'Date', 'Value', 'Passed', 'Note');
      for (const lot of lotsOf(size)) {
        if (lot.status === 'Draft') continue;
        const done = lot.status === 'In lab' ? random.whole(0, 2) : tests.length;
        for (const test of tests.slice(0, done)) {
          const isBad = lot.status === 'Rejected' && test.name === 'HMF';
          const value = Math.max(0, isBad ? random.around(48, 4) : random.around(test.usual, test.spread));
          const hasPassed = value <= test.limit;
          yield line(
            lot.code,
            test.name,
            day(lot.filled + random.whole(3, 12)),
            value.toFixed(test.digits),
            hasPassed ? 'yes' : 'no',
            hasPassed ? null : 'Over the limit; kept back.',
          );
        }
      }
    },
  },
];
