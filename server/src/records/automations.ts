/** Automations within the save that triggers them: what they write stands or falls with it. */
import { randomUUID } from 'node:crypto';
import {
  asBuilder,
  askedOf,
  checkRecord,
  compileAdd,
  compileChange,
  compileResult,
  conditionOf,
  effectOf,
  localeFor,
  fieldOf,
  permit,
  restrictForRules,
  setOffBy,
  tableOf,
  type Automation,
  type FieldEffect,
  type Node,
  type Permit,
  type Person,
  type RecordEvent,
  type Step,
  type StepDone,
  type StepEffect,
  type Table,
  type Value,
  type Write,
  type WritePlace,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { runOwn } from '../db/own.js';
import { runPrepared, type Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import type { SaveChecks } from './checks.js';
import { startValues } from './defaults.js';
import { SavePeople } from './people.js';
import { startedRun } from './digest.js';
import { explained } from './explained.js';
import { writeLetters } from './letters.js';

/** An automation could not do one of its steps: raised inside the transaction of a save, which it takes back. */
export class AutomationFailed extends Error {
  constructor(
    readonly automation: Automation,
    readonly record: number,
    readonly steps: readonly StepDone[],
    /** The write that triggered it. */
    readonly write: number,
    readonly problem: string,
  ) {
    super(
      `The automation “${automation.name}” failed at its step ${steps.length + 1}: ${problem}. Nothing was saved. Ask a builder of this app to correct it.`,
    );
  }
}

interface Saved {
  readonly id: number;
  readonly rev: number;
}

/** A record that an automation has written, with the write that triggered it. */
export interface OwnWrite extends Saved {
  readonly write: number;
  readonly table: string;
}

/** Something that happened to a record, by which write, and the automations on the way to it. */
interface Caused {
  readonly event: RecordEvent;
  readonly write: number;
  readonly after: readonly Automation[];
}

/** One run while it goes on. */
interface Underway extends Caused {
  readonly run: string;
  readonly automation: Automation;
  readonly steps: StepDone[];
  readonly caused: Caused[];
}

/** The most runs of one save: automations that trigger each other would go on for minutes otherwise. */
const mostRuns = (writes: number): number => 500 + 10 * writes;

const notMet = ({ name }: Automation, write: number): Refusal => {
  const message = `“${name}” was not run: its condition is not met.`;
  return new Refusal('invalid', message, [{ write, message }]);
};

const insertRun = `INSERT INTO bibliona.run (id, app_id, automation_id, person_id, table_id, record_id, steps, error) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`;
export class Automations {
  private readonly written: OwnWrite[] = [];
  private readonly people: SavePeople;
  private readonly revs = new Map<string, number>();
  private runs = 0;
  private most = mostRuns(1);

  constructor(
    private readonly app: OpenedApp,
    private readonly person: Person,
    /** The key of the save, and the digest of what was asked for. */
    private readonly under: { readonly key: string; readonly asked: string | null },
    private readonly checks: SaveChecks,
  ) {
    this.people = new SavePeople(app, person);
  }

  /** Whether these writes can set any of them off. */
  concern(writes: readonly Write[]): boolean {
    const on = new Set(this.app.design.automations.filter((automation) => automation.isOn).map((automation) => automation.table));
    return on.size > 0 && writes.some((write) => write.kind !== 'remove' && on.has(write.table));
  }

  /**
   * Runs every automation that is triggered, and those that these trigger in turn. None triggers itself. Gives what was written.
   * @throws AutomationFailed
   */
  async after(
    runner: Runner,
    events: readonly (RecordEvent & { readonly write: number })[],
    saved: readonly (Saved & { readonly table: string })[],
  ): Promise<readonly OwnWrite[]> {
    this.most = mostRuns(saved.length);
    for (const each of saved) this.revs.set(`${each.table} ${each.id}`, each.rev);
    const open: Caused[] = events.map(({ write, ...event }) => ({ event, write, after: [] }));
    for (let next = open.shift(); next !== undefined; next = open.shift()) {
      const { event, after } = next;
      // What is caused goes first, so that one thing is done to its end before the next begins.
      const caused: Caused[] = [];
      for (const automation of setOffBy(this.app.design, event)) {
        if (after.includes(automation)) continue;
        const run = await this.runOne(runner, automation, next);
        if (run === null && event.kind === 'started') throw notMet(automation, next.write);
        if (run === null) continue;
        await runOwn(runner, 'insert run', insertRun, this.row(run, null));
        caused.push(...run.caused);
      }
      open.unshift(...caused);
    }
    return this.written;
  }

  private row(run: Pick<Underway, 'run' | 'automation' | 'event' | 'steps'>, error: string | null): readonly unknown[] {
    const logged = run.steps.map((step) => (step.kind === 'mail' ? { ...step, letters: undefined } : step));
    return [run.run, this.app.id, run.automation.id, this.person.id, run.event.table, run.event.id, JSON.stringify(logged), error];
  }

  /** Runs one for what happened; null when the record does not meet its condition. */
  private async runOne(runner: Runner, automation: Automation, cause: Caused): Promise<Underway | null> {
    const { design } = this.app;
    const { id } = cause.event;
    const number = cause.event.kind === 'started' ? startedRun(this.under.key, automation.id, cause.write) : randomUUID();
    const run: Underway = { ...cause, run: number, automation, steps: [], caused: [], after: [...cause.after, automation] };
    const condition = conditionOf(automation, design);
    // The condition and the first step ask in one go.
    const first = await this.ask(runner, automation, automation.steps[0], condition, id);
    if (first === null || (condition !== null && first[0] !== true)) return null;
    this.runs += 1;
    if (this.runs > this.most)
      throw this.failed(
        run,
        `automations would run more than ${localeFor(design, this.person).count(this.most)} times in this save. Do they trigger each other?`,
      );
    for (const [i, step] of automation.steps.entries()) {
      const answers = i === 0 ? first.slice(condition === null ? 0 : 1) : await this.ask(runner, automation, step, null, id);
      if (answers === null) break;
      try {
        run.steps.push(await this.step(runner, run, effectOf(automation, step, id, answers, design, localeFor(design, {}))));
      } catch (error) {
        throw this.asFailed(run, error);
      }
    }
    return run;
  }

  private async ask(runner: Runner, automation: Automation, step: Step | undefined, condition: Node | null, id: number): Promise<readonly Value[] | null> {
    const { design, schema } = this.app;
    const asked = restrictForRules(askedOf(automation, step, condition, id, design), design, this.person, Date.now());
    const [row] = await runPrepared<{ cells: readonly Value[] }>(runner, compileResult([asked, design, schema], { limit: 1 }));
    return row?.cells ?? null;
  }

  private failed(run: Underway, problem: string): AutomationFailed {
    return new AutomationFailed(run.automation, run.event.id, run.steps, run.write, problem);
  }

  /** What went wrong in a step, in words; what is no fault of the automation stays as it is. */
  private asFailed(run: Underway, error: unknown): unknown {
    const said = explained(error, this.app.design, this.person, run.write);
    return said instanceof Refusal && said.code === 'invalid' ? this.failed(run, said.message) : error;
  }

  private async step(runner: Runner, run: Underway, effect: StepEffect): Promise<StepDone> {
    switch (effect.kind) {
      case 'mail':
        return writeLetters(runner, { app: this.app, writer: this.person, automation: run.automation, run: run.run, record: run.event.id, ...effect });
      case 'change': {
        const table = tableOf(this.app.design, effect.table);
        if (effect.fields.length > 0) await this.change(runner, run, table, effect.values);
        return { kind: 'change', table: table.id, record: run.event.id, fields: this.done(table, effect.fields) };
      }
      case 'add': {
        const table = tableOf(this.app.design, effect.table);
        const saved = await this.add(runner, run, table, effect.values);
        return { kind: 'add', table: table.id, record: saved.id, fields: this.done(table, effect.fields) };
      }
      default:
        return effect satisfies never;
    }
  }

  private done(table: Table, fields: readonly FieldEffect[]): Extract<StepDone, { fields: unknown }>['fields'] {
    return fields.map((field) => ({ ...field, name: fieldOf(table, field.field).name }));
  }

  private async mustFit(runner: Runner, table: Table, values: Readonly<Record<string, Value>>, isNew: boolean): Promise<void> {
    const [issue] = checkRecord(table, values, isNew);
    if (issue !== undefined) throw new Refusal('invalid', issue.message);
    const [stranger] = await this.people.unknown(runner, table, values);
    if (stranger !== undefined) throw new Refusal('invalid', `“${stranger.value}” is not one of the people of this app.`);
  }

  /** Automations can write everything that their builder chose, no matter who triggers them; the history names who did. */
  private permit(table: Table, action: Permit['action']): Permit {
    const granted = permit(this.app.design, asBuilder(this.person), table, action);
    if (granted === null) throw new Error('A builder without a permit');
    return granted;
  }

  /** Statements of automations have places of their own in the history, below those of the save. */
  private next(): WritePlace {
    return { schema: this.app.schema, batch: this.under.key, place: -(this.written.length + 1), asked: this.under.asked };
  }

  private async change(runner: Runner, run: Underway, table: Table, values: Readonly<Record<string, Value>>): Promise<void> {
    const { id } = run.event;
    await this.mustFit(runner, table, values, false);
    const rev = this.revs.get(`${table.id} ${id}`) ?? 0;
    const write: Write = { kind: 'change', table: table.id, id, rev, values: {} };
    if (this.checks.concerns([write])) await this.checks.before(runner, [write]);
    const [saved] = await runPrepared<Saved>(runner, compileChange(this.permit(table, 'change'), id, rev, values, this.next()));
    if (saved === undefined) throw new Error('An automation has lost its record');
    this.note(run, table, { id, rev: saved.rev }, { kind: 'changed', table: table.id, id, fields: Object.keys(values), move: null });
  }

  private async add(runner: Runner, run: Underway, table: Table, given: Readonly<Record<string, Value>>): Promise<Saved> {
    const values: Record<string, Value> = { ...startValues(this.app.design, this.person, table, given), ...given };
    await this.mustFit(runner, table, values, true);
    const [saved] = await runPrepared<Saved>(runner, compileAdd(this.permit(table, 'add'), values, this.next()));
    if (saved === undefined) throw new Error('An INSERT without a row');
    this.note(run, table, saved, { kind: 'added', table: table.id, id: saved.id, fields: Object.keys(values), move: null });
    return saved;
  }

  private note(run: Underway, table: Table, saved: Saved, event: RecordEvent): void {
    this.revs.set(`${table.id} ${saved.id}`, saved.rev);
    this.written.push({ ...saved, write: run.write, table: table.id });
    run.caused.push({ event, write: run.write, after: run.after });
  }

  /** Runs one for a record without its trigger, and tells what it did. The caller rolls the transaction back. */
  async dry(
    runner: Runner,
    automation: Automation,
    id: number,
    rev: number,
  ): Promise<{ isMet: boolean; steps: StepDone[]; error: string | null; sets: string[] }> {
    const { table } = automation;
    this.revs.set(`${table} ${id}`, rev);
    const event: RecordEvent = { kind: 'changed', table, id, fields: [], move: null };
    try {
      const run = await this.runOne(runner, automation, { event, write: 0, after: [] });
      const sets = run?.caused.flatMap((caused) => setOffBy(this.app.design, caused.event)).filter((each) => each.id !== automation.id) ?? [];
      return { isMet: run !== null, steps: run?.steps ?? [], error: null, sets: [...new Set(sets.map((set) => set.name))] };
    } catch (error) {
      if (!(error instanceof AutomationFailed)) throw error;
      return { isMet: true, steps: [...error.steps], error: error.problem, sets: [] };
    }
  }

  /** Keeps in the log that a run was refused: the transaction that it was part of no longer exists. */
  async logRefused(database: DataSource, failed: AutomationFailed): Promise<void> {
    const { automation, record, steps, problem } = failed;
    const event: RecordEvent = { kind: 'changed', table: automation.table, id: record, fields: [], move: null };
    await runOwn(database, 'insert run', insertRun, this.row({ run: randomUUID(), automation, event, steps: [...steps] }, problem));
  }
}
