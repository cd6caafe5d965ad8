/** The records of the demo as spreadsheet files, one a table, parents before children; line by line, at any size. */
import { forage } from './design/hive-work.js';
import { honeyFiles } from './files/honey.js';
import { apiaryName, day, hiveCode, keeperName, line } from './files/lines.js';
import { sellingFiles } from './files/selling.js';
import { treatmentFiles } from './files/treatments.js';
import { Random } from './random.js';

export interface DemoFile {
  /** Id of the table the file fills. */
  readonly table: string;
  readonly lines: () => Generator<string>;
}

export interface Size {
  readonly keepers: number;
  readonly apiaries: number;
  readonly hives: number;
  readonly inspections: number;
  /** The part of the inspections in which single frames were noted. */
  readonly withFrames: number;
  readonly lots: number;
  readonly harvests: number;
  readonly shops: number;
  readonly orders: number;
  readonly treated: number;
  readonly swarms: number;
}
export const demoSizes = {
  /** For tests that need something of everything. */
  small: { keepers: 4, apiaries: 6, hives: 20, inspections: 120, withFrames: 0.5, lots: 12, harvests: 40, shops: 4, orders: 20, treated: 30, swarms: 5 },
  demo: {
    keepers: 27,
    apiaries: 38,
    hives: 900,
    inspections: 12_000,
    withFrames: 0.35,
    lots: 214,
    harvests: 1900,
    shops: 46,
    orders: 780,
    treated: 2400,
    swarms: 37,
  },
  /** For benchmarks. */
  large: {
    keepers: 400,
    apiaries: 2_000,
    hives: 60_000,
    inspections: 1_000_000,
    withFrames: 0,
    lots: 214,
    harvests: 1900,
    shops: 46,
    orders: 780,
    treated: 2400,
    swarms: 37,
  },
} as const satisfies Record<string, Size>;
export type DemoSize = keyof typeof demoSizes;

const hiveNotes = [
  'Gentle, builds straight comb.',
  'Follows to the gate; wear gloves.',
  'Swarmed last May, queen raised from it.',
  'Needs a new floor before winter.',
] as const;
const notes = [
  'Calm, brood in all stages.',
  'Queen cells on two frames, taken out.',
  'Chalk brood on the outer frame.',
  'Super added; heather in flower nearby.',
  'Fed two litres of syrup.\nLook again in ten days.',
  'Wasps at the entrance, narrowed it.',
] as const;
const frameNotes = ['capped, even', 'drone comb at foot', 'pollen arch', 'old comb, replace', 'some chalk brood'] as const;

/** "9:05" for 545 minutes. */
const clock = (minutes: number): string => `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, '0')}`;

/** From October to February bees are left alone: most visits fall between April and September. */
function visitDay(random: Random): number {
  const year = random.whole(0, 2);
  const inYear = Math.round(Math.min(330, Math.max(60, random.around(185, 60))));
  return Math.min(year * 365 + inYear, 1050);
}

export function demoFiles(size: DemoSize): readonly DemoFile[] {
  const sizes: Size = demoSizes[size];
  return [
    {
      table: 'keepers',
      *lines() {
        const random = new Random(11);
        yield line('Name', 'Mail', 'Phone', 'Member since');
        for (let n = 0; n < sizes.keepers; n += 1) {
          const name = keeperName(n);
          yield line(
            name,
            `${name.toLowerCase().replaceAll(' ', '.')}@quillmoor.example`,
            random.chance(0.8) ? `01632 ${random.whole(960_000, 960_999)}` : null,
            day(-random.whole(100, 7000)),
          );
        }
      },
    },
    {
      table: 'apiaries',
      *lines() {
        const random = new Random(12);
        // Of its own, so that what was there before it stays as it was.
        const foraging = new Random(112);
        yield line('Name', 'Keeper', 'Region', 'Altitude, m', 'Rent a year', 'Forage', 'Water nearby', 'Location');
        const standing = new Random(212);
        for (let n = 0; n < sizes.apiaries; n += 1) {
          const region = random.pick(['Moor', 'Valley', 'Coast', 'Orchards']);
          const height = Math.max(2, Math.round(random.around(region === 'Moor' ? 340 : region === 'Coast' ? 25 : 120, 50)));
          yield line(
            apiaryName(n),
            keeperName(n < sizes.keepers ? n : random.whole(0, sizes.keepers - 1)),
            region,
            height,
            random.chance(0.7) ? (random.whole(40, 360) / 2).toFixed(2) : null,
            forage.filter((plant) => foraging.chance(plant === 'Heather' && region === 'Moor' ? 0.9 : 0.35)).join('; '),
            random.chance(0.6) ? 'yes' : 'no',
            // Around the moor, and those of the coast along it.
            `${(region === 'Coast' ? standing.around(54.5, 0.06) : standing.around(54.38, 0.08)).toFixed(4)}, ${(region === 'Coast' ? standing.around(-0.68, 0.04) : standing.around(-1.0, 0.14)).toFixed(4)}`,
          );
        }
      },
    },
    {
      table: 'hives',
      *lines() {
        const random = new Random(13);
        yield line('Code', 'Apiary', 'Box', 'Queen year', 'Stands since', 'Notes');
        for (let n = 0; n < sizes.hives; n += 1) {
          yield line(
            hiveCode(n),
            apiaryName(random.whole(0, sizes.apiaries - 1)),
            random.chance(0.7) ? 'National' : random.pick(['Langstroth', 'Top bar']),
            random.chance(0.92) ? random.whole(2022, 2026) : null,
            day(random.whole(-1500, 800)),
            random.chance(0.15) ? random.pick(hiveNotes) : null,
          );
        }
      },
    },
    {
      table: 'inspections',
      *lines() {
        const random = new Random(14);
        yield line(
          'Number',
          'Hive',
          'Date',
          'Inspected by',
          'Mites counted',
          'Bees sampled',
          'Queen seen',
          'Stores',
          'Temperature, °C',
          'Started',
          'Took',
          'Notes',
        );
        for (let n = 0; n < sizes.inspections; n += 1) {
          const wasCounted = random.chance(0.96);
          const mites = Math.max(0, Math.round(random.around(6, 9) + (random.chance(0.05) ? 14 : 0)));
          yield line(
            n + 1,
            hiveCode(random.whole(0, sizes.hives - 1)),
            day(visitDay(random)),
            keeperName(random.whole(0, sizes.keepers - 1)),
            wasCounted ? mites : null,
            wasCounted ? (random.chance(0.9) ? 300 : random.whole(180, 420)) : null,
            random.chance(0.6) ? 'yes' : 'no',
            random.chance(0.91) ? random.pick(['Low', 'Fair', 'Fair', 'Full', 'Full']) : null,
            random.around(18, 6).toFixed(1),
            clock(9 * 60 + ((n * 37) % 480)),
            n % 9 === 4 ? null : clock(15 + ((n * 13) % 60)),
            random.chance(0.2) ? random.pick(notes) : null,
          );
        }
      },
    },
    {
      table: 'frames',
      *lines() {
        const random = new Random(15);
        const dates = new Map<number, string>();
        yield line('Inspection', 'Frame', 'Brood, %', 'Stores, %', 'Note');
        for (const [n, date] of inspectionDates(sizes)) dates.set(n, date);
        for (let n = 0; n < sizes.inspections; n += 1) {
          if (!random.chance(sizes.withFrames)) continue;
          const frames = random.whole(3, 8);
          for (let frame = 1; frame <= frames; frame += 1) {
            const brood = Math.max(0, Math.min(95, Math.round(random.around(85 - Math.abs(frame - frames / 2) * 14, 12))));
            yield line(
              `${n + 1} · ${dates.get(n + 1) ?? ''}`,
              frame,
              brood,
              Math.max(0, Math.min(100 - brood, random.whole(0, 60))),
              random.chance(0.2) ? random.pick(frameNotes) : null,
            );
          }
        }
      },
    },
    ...honeyFiles(sizes),
    ...sellingFiles(sizes),
    ...treatmentFiles(sizes),
  ];
}

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'] as const;

/** An inspection is called by number and date; its frames name it so. Read back from the same lines that make it. */
function* inspectionDates(sizes: Size): Generator<readonly [number, string]> {
  const size = (Object.keys(demoSizes) as DemoSize[]).find((each) => demoSizes[each] === sizes);
  const file = demoFiles(size ?? 'small').find((demoFile) => demoFile.table === 'inspections');
  for (const text of file?.lines() ?? []) {
    const found = /^(\d+),[^,]*,(\d{4})-(\d\d)-(\d\d),/u.exec(text);
    if (found !== null) yield [Number(found[1]), `${Number(found[4])} ${months[Number(found[3]) - 1] ?? ''} ${found[2] ?? ''}`];
  }
}
