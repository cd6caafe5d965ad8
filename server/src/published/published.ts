/**
 * Lists, reports and tiles that anyone can see. They are read with the grants of the one role that their builder has named,
 * by the same readers as everybody's, and only what is shown is answered.
 */
import {
  kindOf,
  localeFor,
  mostPublishedRows,
  printValue,
  publishedColumns,
  publishedFor,
  publishedPart,
  publishedRows,
  readerOf,
  tableOf,
  tileName,
  typeOfField,
  withListForAll,
  type contract,
  type Field,
  type PublishedKind,
  type PublishedPart,
  type PublishedRows,
  type Table,
  type Tile,
} from '@bibliona/core';
import { LRUCache } from 'lru-cache';
import type { DataSource } from 'typeorm';
import type { z } from 'zod';
import type { Designs } from '../apps/designs.js';
import { answerTile } from '../dashboards/dashboards.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { KeptAnswers } from '../queries/kept-answers.js';
import { RecordReader } from '../records/read.js';
import { layOutReport, type LaidOut } from '../reports/reports.js';

type PublishedPages = z.infer<typeof contract.readPublishedReport.answer>;
type PublishedTile = z.infer<typeof contract.readPublishedTile.answer>;

const pagesAtOnce = 5;
// Whoever comes within that time is shown the same, so that many visitors cost no more than one. Reports can be large.
const cacheLimits = { ttl: publishedFor, ttlAutopurge: true, max: 500 } as const;
const keptReports = { ...cacheLimits, max: 4 } as const;

interface Found<K extends PublishedKind> {
  readonly app: OpenedApp;
  readonly part: PublishedPart<K>;
}

export class PublishedReader {
  private readonly lists = new LRUCache<string, Promise<PublishedRows>>(cacheLimits);
  private readonly tiles = new LRUCache<string, Promise<PublishedTile>>(cacheLimits);
  private readonly reports = new LRUCache<string, Promise<LaidOut>>(keptReports);
  private readonly answers: KeptAnswers;

  constructor(
    /** For what asks more than a page of records does. */
    private readonly database: DataSource,
    private readonly designs: Designs,
  ) {
    this.answers = new KeptAnswers(database);
  }

  /** @throws Refusal not_found, where there is no such part or it is not public: whether there is such an app is not told */
  private async found<K extends PublishedKind>(id: string, kind: K, name: string): Promise<Found<K>> {
    const app = await this.designs.newestOf(id);
    const part = app === null ? undefined : publishedPart(app.design, kind, name);
    if (app === null || part === undefined) throw new Refusal('not_found', 'There is nothing at this address, or it is no longer public.');
    return { app, part };
  }

  /** The sites that can show a part within their pages; none where there is no such part. */
  async sites(app: string, kind: PublishedKind, name: string): Promise<readonly string[]> {
    try {
      return (await this.found(app, kind, name)).part.public.sites;
    } catch (error) {
      if (error instanceof Refusal) return [];
      throw error;
    }
  }

  /** @param after how many rows have been read before. @throws Refusal not_found */
  async list(app: string, name: string, after: number): Promise<PublishedRows> {
    const found = await this.found(app, 'list', name);
    return once(this.lists, [app, found.app.version, name, after], () => this.readList(found, after));
  }

  private async readList({ app, part: list }: Found<'list'>, after: number): Promise<PublishedRows> {
    const person = readerOf(list);
    const design = withListForAll(app.design, list);
    const reader = new RecordReader(this.database, { ...app, design }, person);
    const selection = { list: list.id, search: '', direction: 'up' } as const;
    const { shown } = publishedColumns(app.design, list);
    const table = tableOf(app.design, list.table);
    const from = after === 0 ? null : await reader.place(table.id, selection, null, after);
    const isPastEnd = from !== null && (from.next === null || from.skipped < after);
    const page = isPastEnd ? { records: [], next: null } : await reader.page(table.id, selection, from?.next ?? null, publishedRows);
    const locale = localeFor(app.design, person);
    return {
      name: list.name,
      arrangement: list.arrangement.kind === 'cards' ? 'slips' : 'rows',
      columns: shown.map((field) => ({ name: field.name, isNumber: isNumber(app, table, field) })),
      rows: page.records.map(({ values, tone }) => ({
        cells: shown.map((field) => printValue(field, values[field.id] ?? null, locale)),
        tone: tone ?? null,
      })),
      more: page.next !== null && after + publishedRows < mostPublishedRows,
    };
  }

  /** @param from the first page wanted, from 1. @throws Refusal not_found, invalid, too_large */
  async report(id: string, name: string, from: number): Promise<PublishedPages> {
    const { app, part: report } = await this.found(id, 'report', name);
    const { pages, paper, rows } = await once(this.reports, [id, app.version, name], () => layOutReport(this.database, app, readerOf(report), report));
    return { name: report.name, pages: pages.slice(from - 1, from - 1 + pagesAtOnce), of: pages.length, paper, rows: rows.counted.count };
  }

  /** @throws Refusal not_found, invalid */
  async tile(id: string, dashboard: string, name: string): Promise<PublishedTile> {
    const { app, part: tile } = await this.found(id, 'tile', tileName(dashboard, name));
    return once(this.tiles, [id, app.version, dashboard, name], async () => {
      const answer = await answerTile(this.answers, app, readerOf(tile), tile);
      const { region, timeZone } = app.design;
      // What visitors see is all there is for them: that others see more is not told.
      return { tile: withoutSource(tile), answer: { ...answer, seen: answer.seen === 'part' ? 'all' : answer.seen }, region, timeZone };
    });
  }
}

const isNumber = (app: OpenedApp, table: Table, field: Field): boolean =>
  field.kind === 'formula' ? typeOfField(app.design, table.id, field)?.kind === 'number' : kindOf(field).traits.align === 'right';

/** How a tile is drawn, and not what it is made of. */
function withoutSource({ public: _, ...tile }: PublishedPart<'tile'>): Tile {
  return { ...tile, source: { kind: 'table', table: 'rows', condition: '', columns: [] } };
}

/** What is read once for all who ask while it holds; what fails is read again by the next. */
async function once<T>(cache: LRUCache<string, Promise<T>>, of: readonly unknown[], read: () => Promise<T>): Promise<T> {
  const key = JSON.stringify(of);
  const known = cache.get(key);
  if (known !== undefined) return known;
  const reading = read();
  cache.set(key, reading);
  try {
    return await reading;
  } catch (error) {
    cache.delete(key);
    throw error;
  }
}
