/** Two versions of the same part side by side, setting by setting: what two builders made of it at the same time. */
import type { AppDesign } from '../design/design.js';
import { applyChanges } from './change.js';
import { inTheWay, replacedBy } from './apart.js';
import type { DesignChange } from './design-change.js';

/** A setting in which the versions differ. */
export interface VersionRow {
  /** The way to the setting in words: "Steps › 2 › Subject". */
  readonly where: string;
  readonly before: string;
  readonly theirs: string;
  readonly mine: string;
}

const absent = 'not there';
const empty = 'empty';

/**
 * Where the versions differ when `changes`, begun on `base`, are asked for on `now`: a row for each setting that is not the
 * same in both. Empty when mine can no longer be made.
 */
export function versionsOf(changes: readonly DesignChange[], base: AppDesign, now: AppDesign): readonly VersionRow[] {
  return inTheWay(changes, base, now).flatMap((change) => {
    const made = applyChanges(now, [change]);
    if (!made.ok) return [];
    const names = namesIn([base, now, made.design]);
    const three = [base, now, made.design].map((design) => replacedBy(change, design)) as [unknown, unknown, unknown];
    return compared('', three, names).map((row) => ({ ...row, where: asOnScreen(row.where, change) }));
  });
}

/** Settings whose name on screen is another one than in the design. */
const onScreen = {
  change_field: {
    Description: 'Help text',
    Default: 'Default value',
    Fixed: "Can't be changed after saving",
    'Any case': 'Upper and lower case are the same',
    'Starts with last': 'Begins with what the person entered last',
    Indexed: 'Quick to filter and sort by',
    'List width': 'Width in lists',
  },
  change_relationship: { 'Never own': "A record can't be its own", 'Children name': 'Its list' },
  change_table: {
    Description: 'What one record is',
    Section: 'Section of the shelf',
    Caption: 'A record is called',
    'Shown with': 'Pickers also show',
    Link: 'Hidden: it only links two tables',
  },
  put: { Description: 'What it is for', Section: 'Section of the shelf' },
} as const satisfies Partial<Record<DesignChange['kind'], Readonly<Record<string, string>>>>;

function asOnScreen(where: string, { kind }: DesignChange): string {
  const names: Readonly<Record<string, string>> = kind in onScreen ? onScreen[kind as keyof typeof onScreen] : {};
  return names[where] ?? where;
}

/** What the ids in some designs stand for. */
function namesIn(designs: readonly AppDesign[]): ReadonlyMap<string, string> {
  const names = new Map<string, string>();
  const look = (value: unknown): void => {
    if (Array.isArray(value)) value.forEach(look);
    else if (isObject(value)) {
      const name = value['name'] ?? value['label'] ?? value['childrenName'];
      if (typeof value['id'] === 'string' && typeof name === 'string') names.set(value['id'], name);
      Object.values(value).forEach(look);
    }
  };
  for (const design of designs) look(design);
  return names;
}

type Names = ReadonlyMap<string, string>;
type Three = readonly [before: unknown, theirs: unknown, mine: unknown];
type Settings = Readonly<Record<string, unknown>>;

const isObject = (value: unknown): value is Settings => typeof value === 'object' && value !== null && !Array.isArray(value);

const isEntries = (value: unknown): value is readonly Settings[] => Array.isArray(value) && value.every(isObject);

function compared(where: string, [before, theirs, mine]: Three, names: Names): readonly VersionRow[] {
  if (JSON.stringify(theirs) === JSON.stringify(mine)) return [];
  if (isObject(theirs) && isObject(mine)) {
    const old: Settings = isObject(before) ? before : {};
    const keys = [...new Set([...Object.keys(theirs), ...Object.keys(mine)])].filter((key) => key !== 'id' && key !== 'column');
    return keys.flatMap((key) => compared(below(where, words(key)), [old[key], theirs[key], mine[key]], names));
  }
  if (isEntries(theirs) && isEntries(mine)) return entries(where, Array.isArray(before) ? before : [], theirs, mine, names);
  if (where !== '') return [{ where, before: said(before, names), theirs: said(theirs, names), mine: said(mine, names) }];
  // One of the two has removed it.
  const whole = (value: unknown): string => (value === null ? 'removed' : said(value, names));
  return [{ where: 'All of it', before: whole(before), theirs: whole(theirs), mine: whole(mine) }];
}

/** Entries of a list are matched by what they are about, wherever they are. */
function entries(where: string, before: readonly unknown[], theirs: readonly Settings[], mine: readonly Settings[], names: Names): readonly VersionRow[] {
  const keyed = (list: readonly unknown[]): ReadonlyMap<string, Settings> =>
    new Map(list.filter(isObject).map((each, at) => [keyOf(each) ?? String(at + 1), each]));
  const [old, one, other] = [keyed(before), keyed(theirs), keyed(mine)];
  const rows = [...new Set([...one.keys(), ...other.keys()])].flatMap((key) => {
    const index = below(where, names.get(key) ?? nameOf(one.get(key) ?? other.get(key)) ?? String([...(one.has(key) ? one : other).keys()].indexOf(key) + 1));
    const [a, b, c] = [old.get(key), one.get(key), other.get(key)];
    if (b !== undefined && c !== undefined) return compared(index, [a, b, c], names);
    const there = (value: unknown): string => (value === undefined ? absent : 'there');
    return [{ where: index, before: there(a), theirs: there(b), mine: there(c) }];
  });
  const order = (list: ReadonlyMap<string, Settings>): string => [...list].map(([key, value]) => names.get(key) ?? nameOf(value) ?? key).join(', ');
  const isSameSet = one.size === other.size && [...one.keys()].every((key) => other.has(key));
  if (!isSameSet || [...one.keys()].join() === [...other.keys()].join()) return rows;
  return [...rows, { where: below(where, 'Order'), before: order(old), theirs: order(one), mine: order(other) }];
}

function keyOf(entry: Settings): string | null {
  const key = entry['id'] ?? entry['field'] ?? entry['column'] ?? entry['choice'] ?? entry['relationship'];
  return typeof key === 'string' ? key : null;
}
function nameOf(entry: Settings | undefined): string | null {
  const name = entry?.['name'] ?? entry?.['label'] ?? entry?.['message'];
  return typeof name === 'string' && name !== '' ? name : null;
}

const below = (where: string, name: string): string => (where === '' ? name : `${where} › ${name}`);

/** The name of a setting in the code as words: "startsPage" is "Starts page". */
function words(key: string): string {
  const apart = key
    .replace(/^is(?=[A-Z])/u, '')
    .replace(/(?<=[a-z])(?=[A-Z])/gu, ' ')
    .toLowerCase();
  return apart.charAt(0).toUpperCase() + apart.slice(1);
}

function said(value: unknown, names: Names): string {
  if (value === undefined) return absent;
  if (value === null || value === '') return empty;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value)) return value.length === 0 ? empty : value.map((each) => said(each, names)).join(', ');
  if (isObject(value))
    return (
      nameOf(value) ??
      (Object.entries(value)
        .map(([key, one]) => `${words(key).toLowerCase()}: ${said(one, names)}`)
        .join(', ') ||
        empty)
    );
  return names.get(String(value)) ?? String(value);
}
