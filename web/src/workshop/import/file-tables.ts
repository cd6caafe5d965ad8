/** Which tables a file becomes: what a person chooses of the things that its rows repeat. */
import { freeName, suggestField, type AppDesign, type ColumnPlan, type FileSurvey, type ImportPlan, type Repeats, type ThingPlan } from '@bibliona/core';
import pluralize from 'pluralize';

type Thing = Repeats['things'][number];

/** A value that is right where rows with the same name differ. */
interface RightValue {
  readonly key: number;
  readonly column: number;
  readonly name: string;
  readonly value: string;
}

export interface FileTables {
  /** The keys of the things that get a table of their own. All columns are counted from 0. */
  readonly keys: readonly number[];
  /** Columns that stay in the rows, although they follow from a thing. */
  readonly inRows: readonly number[];
  /** What their tables are called, where a person said so. */
  readonly names: Readonly<Record<number, string>>;
  readonly right: readonly RightValue[];
}

/** What an earlier plan for the file had chosen. */
export function chosenBefore({ repeats }: FileSurvey, plan: ImportPlan | null): FileTables {
  const things = plan?.things ?? [];
  const chosen: FileTables = {
    keys: things.map((thing) => thing.key),
    inRows: [],
    names: Object.fromEntries(things.map((thing) => [thing.key, thing.name])),
    right: things.flatMap((thing) => thing.chosen.map((each) => ({ key: thing.key, ...each }))),
  };
  const elsewhere = things.flatMap((thing) => [thing.key, ...thing.columns]);
  const repeated = repeats.things.flatMap((thing) => thing.columns.map((column) => column.column));
  return { ...chosen, inRows: repeated.filter((column) => homeOf(repeats, column, chosen) !== null && !elsewhere.includes(column)) };
}

/** The ids that the table of a thing gets, once it is chosen. */
export interface ThingIds {
  readonly table: string;
  readonly form: string;
  readonly list: string;
  readonly relationship: string;
  readonly field: string;
}

interface Target {
  readonly table: string;
  readonly name: string;
}

const spaced = (head: string): string => head.replace(/[_-]+/gu, ' ').replace(/\s+/gu, ' ').trim();
const capital = (text: string): string => text.slice(0, 1).toUpperCase() + text.slice(1);
/** What a column says beside of what it says it: "Apiary name", "Hive no.". */
const aside = /\s+(name|title|code|key|number|no\.?|nr\.?|id)$/iu;

const without = (text: string, noun: string | null): string =>
  noun !== null && text.toLowerCase().startsWith(`${noun.toLowerCase()} `) ? text.slice(noun.length + 1) : text;

const thingAt = ({ things }: Repeats, key: number): Thing | undefined => things.find((thing) => thing.key === key);

/** What one thing is called: "Apiary" where the column is "Hive Apiary" or "Apiary name". */
export function nounOf(survey: FileSurvey, key: number): string {
  const within = thingAt(survey.repeats, key)?.within ?? null;
  const head = spaced(survey.columns[key]?.name ?? '');
  return capital(without(head, within === null ? null : nounOf(survey, within)).replace(aside, ''));
}

/** The nearest thing with a table that records of another one are named by; null: the rows. */
export function ownerOf(repeats: Repeats, key: number, keys: readonly number[]): number | null {
  const within = thingAt(repeats, key)?.within ?? null;
  return within === null || keys.includes(within) ? within : ownerOf(repeats, within, keys);
}

/** The thing into whose table a column goes; null: into that of the rows. The key of a thing goes into its own. */
export function homeOf(repeats: Repeats, column: number, { keys, inRows }: FileTables): number | null {
  const thing = repeats.things.find((repeatedThing) => repeatedThing.key === column || repeatedThing.columns.some((other) => other.column === column));
  const hasTable = thing?.key === column && keys.includes(column);
  if (thing === undefined || (inRows.includes(column) && !hasTable)) return null;
  return keys.includes(thing.key) ? thing.key : ownerOf(repeats, thing.key, keys);
}

/** The field of a column: shorter where its table says what it is about. */
export function fieldNameOf(survey: FileSurvey, column: number, tables: FileTables): string {
  const head = survey.columns[column]?.name ?? '';
  const home = homeOf(survey.repeats, column, tables);
  if (home === null) return head;
  if (column === home) return capital(aside.exec(spaced(head))?.[1] ?? 'Name');
  return capital(without(spaced(head), nounOf(survey, home)));
}

/** The plans of the columns after other tables have been chosen: names that a person gave stay. */
export function columnsFor(
  survey: FileSurvey,
  columns: readonly ColumnPlan[],
  before: FileTables,
  after: FileTables,
  region: AppDesign['region'],
): readonly ColumnPlan[] {
  const taken = new Map<number | null, string[]>();
  return columns.map((plan, at) => {
    const survey_ = survey.columns[at];
    if (plan.kind !== 'new' || survey_ === undefined) return plan;
    const home = homeOf(survey.repeats, at, after);
    const isNamed = plan.field.name !== fieldNameOf(survey, at, before) && plan.field.name !== survey_.name;
    const names = taken.get(home) ?? [];
    const short = fieldNameOf(survey, at, after);
    const name = isNamed ? plan.field.name : names.includes(short.toLowerCase()) ? survey_.name : short;
    taken.set(home, [...names, name.toLowerCase()]);
    // What records are called is no choice of a few words: there can be more of them.
    const wasKey = before.keys.includes(at);
    const isKey = after.keys.includes(at);
    const kind = isKey && plan.field.kind === 'choice' ? 'text' : wasKey && !isKey ? survey_.kind : null;
    const field = kind === null ? plan.field : suggestField({ ...survey_, kind }, () => plan.field.id, region);
    return { ...plan, field: { ...field, name } };
  });
}

/** What the chosen things are called as tables. */
export function tableNames(survey: FileSurvey, { keys, names }: FileTables, target: Target, design: AppDesign): ReadonlyMap<number, string> {
  const taken = [target.name, ...design.tables.map((table) => table.name)];
  const all = new Map<number, string>();
  for (const { key } of survey.repeats.things) {
    const name = names[key] ?? freeName(capital(pluralize.plural(nounOf(survey, key))), taken);
    if (keys.includes(key)) taken.push(name);
    all.set(key, name);
  }
  return all;
}

/** The tables of the chosen things, as the plan of an import has them. */
export function thingPlans(
  survey: FileSurvey,
  tables: FileTables,
  columns: readonly ColumnPlan[],
  target: Target,
  design: AppDesign,
  idsOf: (key: number) => ThingIds,
): readonly ThingPlan[] {
  const names = tableNames(survey, tables, target, design);
  const chosen = survey.repeats.things.filter((thing) => tables.keys.includes(thing.key));
  const fieldsOf = (home: number | null): string[] =>
    columns.flatMap((plan, at) => (plan.kind === 'new' && homeOf(survey.repeats, at, tables) === home ? [plan.field.name] : []));
  const references = new Map<number | null, string[]>();
  return chosen.map(({ key }): ThingPlan => {
    const owner = ownerOf(survey.repeats, key, tables.keys);
    const besides = references.get(owner) ?? [];
    const fieldName = freeName(nounOf(survey, key), [...fieldsOf(owner), ...besides]);
    references.set(owner, [...besides, fieldName]);
    return {
      ...idsOf(key),
      name: (names.get(key) ?? '').trim(),
      key,
      columns: columns.flatMap((_, at) => (at !== key && homeOf(survey.repeats, at, tables) === key ? [at] : [])),
      within: owner === null ? target.table : idsOf(owner).table,
      fieldName,
      childrenName: owner === null ? target.name : (names.get(owner) ?? ''),
      chosen: tables.right.flatMap(({ key: of, column, name, value }) => (of === key ? [{ column, name, value }] : [])),
    };
  });
}
