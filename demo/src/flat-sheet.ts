/** The inspections of the demo as somebody keeps them who has one sheet and no tables: each row says all of it again. */
import { splitRows } from '@bibliona/core';
import { demoFiles, type DemoSize } from './files.js';
import { line } from './files/lines.js';

interface FlatSheet {
  readonly heads: string[];
  readonly rows: string[][];
}

/** The records of a table of the demo, by their first field. */
function recordsOf(size: DemoSize, table: string): { readonly heads: readonly string[]; readonly rows: readonly (readonly string[])[] } {
  const file = demoFiles(size).find((demoFile) => demoFile.table === table);
  const [heads = [], ...rows] = splitRows([...(file?.lines() ?? [])].join(''), ',');
  return { heads, rows };
}

/** Every inspection with all that is known of its hive, of the apiary of that, and of the keeper of that. */
export function flatSheet(size: DemoSize): FlatSheet {
  const [inspections, hives, apiaries, keepers] = ['inspections', 'hives', 'apiaries', 'keepers'].map((table) => recordsOf(size, table));
  const joined = (heads: readonly string[], of: string) => heads.slice(1).map((head) => `${of} ${head}`);
  const find = (table: typeof hives, key: string | undefined): readonly string[] => table?.rows.find((row) => row[0] === key) ?? [];
  return {
    heads: [
      ...(inspections?.heads ?? []),
      ...joined(hives?.heads ?? [], 'Hive'),
      ...joined(apiaries?.heads ?? [], 'Apiary'),
      ...joined(keepers?.heads ?? [], 'Keeper'),
    ],
    rows: (inspections?.rows ?? []).map((row) => {
      const hive = find(hives, row[1]);
      const apiary = find(apiaries, hive[1]);
      const keeper = find(keepers, apiary[1]);
      return [...row, ...hive.slice(1), ...apiary.slice(1), ...keeper.slice(1)];
    }),
  };
}

/** The sheet as a CSV file. */
export const flatFile = ({ heads, rows }: FlatSheet): string => [heads, ...rows].map((cells) => line(...cells)).join('');
