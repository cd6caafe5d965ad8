import { standardLocale, contract, layOut, paperOf, type DesignChange, type OpenApp, type Report, type ReportPage } from '@bibliona/core';
import fc from 'fast-check';
import { getDocument, OPS } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { breathing } from '../src/http/breathing.js';
import { drawPages, openPdf } from '../src/reports/draw-pdf.js';
import { measure } from '../src/reports/fonts.js';
import { textsOf } from './pdf.js';
import { field, honey, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

const bare = (text: string): string => text.replace(/\s+/gu, '');
const previewOf = (page: ReportPage): string => page.boxes.flatMap((box) => (box.kind === 'text' ? box.lines.map((line) => line.text) : [])).join('');

const harvest: Report = {
  id: 'rep_hives',
  name: 'Hives by apiary',
  description: 'What stands where, and what it pays.',
  section: '',
  source: {
    kind: 'table',
    table: 'hives',
    condition: '',
    columns: [
      { id: 'c_apiary', name: 'Apiary', expression: 'Apiary', summary: null, digits: null },
      { id: 'c_code', name: 'Code', expression: 'Code', summary: null, digits: null },
      { id: 'c_rent', name: 'Rent', expression: 'Rent', summary: null, digits: 2 },
      { id: 'c_notes', name: 'Notes', expression: 'Notes', summary: null, digits: null },
    ],
  },
  fields: [
    { column: 'c_code', share: 6, wraps: false, total: 'count' },
    { column: 'c_rent', share: 4, wraps: false, total: 'sum' },
    { column: 'c_notes', share: 12, wraps: true, total: null },
  ],
  groups: [{ column: 'c_apiary', direction: 'up', startsPage: false, keepsHeading: true }],
  order: [{ column: 'c_rent', direction: 'down' }],
  arrangement: 'columns',
  paper: { size: 'a4', turned: true },
};

describe('a report', () => {
  let it: TestServer;
  let ada: Caller;
  let wren: Caller & { readonly id: number };
  let app: OpenApp;
  const params = (): Record<string, string> => ({ app: app.id, report: 'rep_hives' });
  beforeAll(async () => {
    it = await testServer();
    ada = await it.person('Ada Wren');
    wren = await it.person('Wren Holt');
    app = await makeApp(ada, 'Reported', honey);
    const apiaries = ['Ottermere', 'Ælfric’s Łąka', 'Ωmega Пасека'];
    const hives = Array.from({ length: 130 }, (_, i) => ({
      kind: 'add',
      table: 'hives',
      as: `h${i}`,
      values: {
        h_code: `H-${i}`,
        h_rent: i % 7 === 0 ? null : `${i}.${i % 10}5`,
        h_notes: i % 3 === 0 ? 'Moved to the upper terrace after the storm, with a new floor and a queen of last year. '.repeat(1 + (i % 4)) : null,
        h_apiary: { added: `a${i % 3}` },
      },
    }));
    const writes = [...apiaries.map((name, i) => ({ kind: 'add', table: 'apiaries', as: `a${i}`, values: { a_name: name } })), ...hives];
    await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
    const changes: DesignChange[] = [
      { kind: 'put', part: 'report', value: harvest },
      {
        kind: 'put',
        part: 'role',
        value: {
          id: 'keeper',
          name: 'Keeper',
          description: '',
          everything: false,
          menu: [],
          grants: ['apiaries', 'hives'].map((table) => ({
            id: `g_${table}`,
            table,
            see: true,
            add: false,
            change: false,
            remove: false,
            export: false,
            condition: table === 'hives' ? 'Apiary.Name = "Ottermere"' : '',
            hidden: table === 'hives' ? ['h_rent'] : [],
            locked: [],
          })),
        },
      },
    ];
    app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes } });
    await it.sql(`INSERT INTO bibliona.app_person (app_id, person_id, role, roles) VALUES ($1, $2, 'member', '{keeper}')`, [app.id, wren.id]);
  });
  afterAll(() => it.close());

  const schemaOf = async (): Promise<string> => (await it.sql<{ schema: string }>('SELECT schema FROM bibliona.app WHERE id = $1', [app.id]))[0]?.schema ?? '';
  const whole = async (who: Caller): Promise<ReportPage[]> => {
    const pages: ReportPage[] = [];
    for (;;) {
      const answer = await who.call(contract.readReport, { params: params(), query: { from: pages.length + 1, count: 3 } });
      pages.push(...answer.pages);
      if (pages.length >= answer.of) return pages;
    }
  };
  const pdfOf = async (who: Caller): Promise<Uint8Array> => {
    const { type, bytes } = await who.download(contract.printReport, params());
    expect(type).toBe('application/pdf');
    return bytes;
  };

  test('prints numbers and dates as the reader chose, else as the app does', async () => {
    const textsOfFirst = async (): Promise<string> =>
      JSON.stringify((await whole(ada))[0]?.boxes.flatMap((box) => (box.kind === 'text' ? box.lines.map((line) => line.text) : [])));
    expect(await textsOfFirst()).toMatch(/"\d+\.\d\d"/u);
    const profile = { name: 'Ada Quill', region: 'de-DE' } as const;
    expect((await ada.call(contract.changeProfile, { body: profile })).person).toMatchObject(profile);
    expect(await textsOfFirst()).toMatch(/"\d+,\d\d"/u);
    await ada.call(contract.changeProfile, { body: { ...profile, region: null } });
    expect(await textsOfFirst()).toMatch(/"\d+\.\d\d"/u);
    expect((await ada.refused(contract.changeProfile, { body: { ...profile, region: 'xx-XX' as 'de-DE' } })).body).toMatchObject({ code: 'bad_request' });
  });

  test('is the same in the preview and in the PDF, word for word, whatever the script', async () => {
    const pages = await whole(ada);
    expect(pages.length).toBeGreaterThan(3);
    const read = await textsOf(await pdfOf(ada));
    expect(read.map(bare)).toEqual(pages.map((page) => bare(previewOf(page))));
    expect(read.join()).toContain('Łąka');
  });

  test('adds up: what is on the paper is what the database counts by itself', async () => {
    const { proof } = await ada.call(contract.tryReport, { params: { app: app.id }, body: { report: harvest } });
    const [direct] = await it.sql<{ rent: string }>(`SELECT sum(rent) AS rent FROM ${await schemaOf()}.hives`);
    expect(proof.sums).toEqual([
      { label: 'Rows', paper: '130', source: '130', holds: true, type: 'number', digits: 0, unit: null, isAmount: true },
      { label: 'Number of Code', paper: '130', source: '130', holds: true, type: 'number', digits: 0, unit: null, isAmount: true },
      {
        label: 'Sum of Rent',
        paper: String(Number(direct?.rent)),
        source: String(Number(direct?.rent)),
        holds: true,
        type: 'number',
        digits: 2,
        unit: null,
        isAmount: true,
      },
    ]);
    expect(proof.findings).toEqual([]);
  });

  test('shows each person what is theirs alone, on paper too', async () => {
    const all = (await textsOf(await pdfOf(wren))).join('');
    expect(all).toContain('Ottermere');
    expect(all).not.toContain('Łąka');
    expect(all).toContain('44 rows');
    const pages = await whole(wren);
    const rents = pages.flatMap((page) =>
      page.boxes.filter(
        (box) => box.kind === 'text' && box.band.kind !== 'page_header' && box.column === 'c_rent' && box.lines.some((line) => line.text !== ''),
      ),
    );
    expect(rents).toEqual([]);
  });

  test('from a query that keeps only its first rows shows those, in the order of the report', async () => {
    const query = {
      id: 'q_dear',
      name: 'Dear hives',
      description: '',
      section: '',
      table: 'hives',
      condition: '',
      columns: harvest.source.kind === 'table' ? harvest.source.columns : [],
      order: [{ column: 'c_rent', direction: 'down' as const }],
      limit: 5,
    };
    app = await ada.call(contract.changeDesign, {
      params: { app: app.id },
      body: { version: app.version, changes: [{ kind: 'put', part: 'query', value: query }] },
    });
    const report: Report = { ...harvest, source: { kind: 'query', query: 'q_dear' }, groups: [], order: [{ column: 'c_rent', direction: 'up' }] };
    const { pages, proof } = await ada.call(contract.tryReport, { params: { app: app.id }, body: { report } });
    const codes = pages.flatMap((page) =>
      page.boxes.flatMap((box) => (box.kind === 'text' && box.band.kind === 'row' && box.column === 'c_code' ? box.lines.map((line) => line.text) : [])),
    );
    expect(codes).toEqual(['H-124', 'H-125', 'H-127', 'H-128', 'H-129']);
    expect(proof.sums.every((sum) => sum.holds)).toBe(true);
    const used = await ada.refused(contract.changeDesign, {
      params: { app: app.id },
      body: {
        version: app.version,
        changes: [
          { kind: 'put', part: 'report', value: report },
          { kind: 'remove', part: 'query', id: 'q_dear' },
        ],
      },
    });
    expect(used.body.message).toContain('the report Hives by apiary is made from it');
  });

  test('of more rows than anyone reads is refused, with how many there are', async () => {
    await it.sql(`INSERT INTO ${await schemaOf()}.hives (code, created_by, updated_by) SELECT 'X-' || n, 1, 1 FROM generate_series(1, 25000) AS n`);
    const answer = await ada.refused(contract.readReport, { params: params() });
    expect([answer.status, answer.body.message]).toEqual([413, expect.stringContaining('would have 25,130 rows; up to 25,000 are laid out')]);
  });

  test('that cannot be read says where, and one without fields what to do', async () => {
    const broken = { ...harvest, source: { ...harvest.source, condition: 'Rnt > 3' } } as Report;
    expect((await ada.refused(contract.tryReport, { params: { app: app.id }, body: { report: broken } })).body.message).toContain('Rnt');
    const empty = { ...harvest, fields: [], groups: [], order: [] };
    expect((await ada.refused(contract.tryReport, { params: { app: app.id }, body: { report: empty } })).body.message).toContain('Add a field first');
  });
});

test('a PDF that nobody reads any more is not drawn to its end', () => {
  const paper = paperOf({ size: 'a4', turned: false });
  const document = openPdf({ title: 'Any', author: 'Quillmoor', at: new Date(0) });
  const drawing = drawPages(
    document,
    Array.from({ length: 9 }, (_, i) => ({ number: i + 1, boxes: [] })),
    paper,
  );
  expect(drawing.next().done).toBe(false);
  document.destroy();
  expect(drawing.next().done).toBe(true);
});

test('whatever is on a page, a PDF reader finds the words of the preview', { timeout: 120_000 }, async () => {
  const columns = ['One', 'Two'].map((name, i) => ({ id: `c_${i}`, name, type: i === 0 ? 'string' : 'number', digits: null, unit: null }));
  const report: Report = {
    ...harvest,
    fields: columns.map(({ id }) => ({ column: id, share: 5, wraps: true, total: null })),
    groups: [],
    order: [],
  };
  const text = fc.oneof(fc.lorem({ maxCount: 30 }), fc.string({ unit: fc.constantFrom(...'aZ09 éłőж≥“”–·αΩ…'), maxLength: 60 }));
  const rows = fc.array(fc.tuple(text, fc.integer().map(String)), { minLength: 1, maxLength: 60 });
  const samples = fc.sample(fc.tuple(rows, fc.constantFrom('a4', 'letter'), fc.boolean()), { numRuns: 12, seed: 20_261_123 });
  for (const [cells, size, turned] of samples) {
    const paper = paperOf({ size: size, turned });
    const pages = layOut({ report, columns, rows: cells, paper, around: { app: 'Quillmoor', printed: 'today' }, measure, locale: standardLocale() });
    const document = openPdf({ title: 'Any', author: 'Quillmoor', at: new Date(0) });
    const [pdf] = await Promise.all([buffer(document), breathing(drawPages(document, pages, paper))]);
    expect((await textsOf(pdf)).map(bare)).toEqual(pages.map((page) => bare(previewOf(page))));
  }
});

test('a signature is on the paper as its strokes, to those who see it', async () => {
  const it = await testServer();
  const ada = await it.person('Ada Roke');
  const app = await makeApp(ada, 'Lots', [
    table('lots', 'Lots', [field('text', 'l_code', 'Code'), field('signature', 'l_signed', 'Signed')]),
    {
      kind: 'put',
      part: 'report',
      value: {
        ...harvest,
        id: 'rep_lots',
        source: {
          kind: 'table',
          table: 'lots',
          condition: '',
          columns: ['Code', 'Signed'].map((name, i) => ({ id: `c_${i}`, name, expression: name, summary: null, digits: null })),
        },
        fields: [0, 1].map((i) => ({ column: `c_${i}`, share: 6, wraps: true, total: null })),
        groups: [],
        order: [{ column: 'c_1', direction: 'up' }],
      },
    },
  ]);
  const long = Array.from({ length: 600 }, (_, i) => `L${i % 300} ${(i * 7) % 100}`).join('');
  const writes = [`M10 50L150 20L290 80`, `M1 1${long}`, null].map((l_signed, i) => ({
    kind: 'add',
    table: 'lots',
    as: `l${i}`,
    values: { l_code: `L-${i}`, l_signed },
  }));
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
  const { pages } = await ada.call(contract.readReport, { params: { app: app.id, report: 'rep_lots' } });
  const drawn = pages.flatMap((page: ReportPage) => page.boxes.flatMap((box) => (box.kind === 'drawing' ? [box.drawing.path] : [])));
  expect(drawn.sort()).toEqual([`M10 50L150 20L290 80`, `M1 1${long}`].sort());
  const { bytes } = await ada.download(contract.printReport, { app: app.id, report: 'rep_lots' });
  const document = await getDocument({ data: new Uint8Array(bytes), verbosity: 0, useSystemFonts: false }).promise;
  const page = await document.getPage(1);
  const { fnArray, argsArray } = await page.getOperatorList();
  const lines = fnArray.flatMap((fn, i) => (fn === OPS.constructPath ? [(argsArray[i] as [number[]])[0].filter((op) => op === OPS.lineTo).length] : []));
  expect(lines).toContain(2);
  expect(lines).toContain(600);
  expect((await textsOf(bytes)).join('')).toContain('Ada Roke,');
  await document.destroy();
  // A query says who signed, in words.
  const query = {
    id: 'q_lots',
    name: 'Signed lots',
    description: '',
    section: '',
    table: 'lots',
    condition: '',
    columns: [{ id: 'c_1', name: 'Signed', expression: 'Signed', summary: null, digits: null }],
    order: [],
    limit: null,
  };
  const answer = await ada.call(contract.tryQuery, { params: { app: app.id }, body: { query } });
  expect(answer.rows.map((row) => row.cells[0])).toEqual(['Ada Roke', 'Ada Roke', null]);
  await it.close();
});
