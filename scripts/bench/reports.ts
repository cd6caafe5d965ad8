import { createRequire } from 'node:module';
import { contract, type Report, type ReportPages } from '@bibliona/core';
import PDFDocument from 'pdfkit';
import { buffer } from 'node:stream/consumers';
import { fill, makeTable, median, memoryOf, time, type Bench, type Line } from './bench.js';

const rows = 10_000;
const runs = 5;
const shown = ['Code', 'Keeper', 'Number', 'Mites', 'Warmth', 'Amount', 'Date', 'Next'];

const report: Report = {
  id: 'rep_visits',
  name: 'Visits by place',
  description: 'Every visit, with what was counted.',
  section: '',
  source: {
    kind: 'table',
    table: 'visits',
    condition: '',
    columns: ['Place', 'Stores', ...shown].map((name) => ({
      id: `c_${name.toLowerCase()}`,
      name,
      expression: name,
      summary: null,
      digits: name === 'Amount' ? 2 : null,
    })),
  },
  fields: shown.map((name) => ({
    column: `c_${name.toLowerCase()}`,
    share: name === 'Code' ? 8 : 5,
    wraps: true,
    total: ['Number', 'Mites', 'Amount'].includes(name) ? 'sum' : null,
  })),
  groups: [
    { column: 'c_place', direction: 'up', startsPage: false, keepsHeading: true },
    { column: 'c_stores', direction: 'up', startsPage: false, keepsHeading: true },
  ],
  order: [{ column: 'c_date', direction: 'down' }],
  arrangement: 'columns',
  paper: { size: 'a4', turned: true },
};

/** A grouped report through the whole server, against the drawing of its boxes alone. */
export async function benchReports(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Reported');
  await fill(bench, schema, rows);
  await bench.client.query(`VACUUM ANALYZE "${schema}".visits`);
  await bench.call('POST', `/api/apps/${app.id}/changes`, { version: app.version, changes: [{ kind: 'put', part: 'report', value: report }] });
  const path = `/api/apps/${app.id}/reports/${report.id}`;
  const slice = (from: number, count: number): Promise<ReportPages> => bench.call('GET', `${path}?from=${from}&count=${count}`) as Promise<ReportPages>;
  const pages: ReportPages['pages'] = [];
  const { of, paper } = await slice(1, 1);
  while (pages.length < of) pages.push(...(await slice(pages.length + 1, 20)).pages);
  const pdf = async (): Promise<number> => {
    const answer = await fetch(`${bench.address}${contract.printReport.path.replace(':app', app.id).replace(':report', report.id)}`, {
      headers: { cookie: bench.cookie },
    });
    return (await answer.arrayBuffer()).byteLength;
  };
  const [whole, drawing, first]: [number[], number[], number[]] = [[], [], []];
  const before = memoryOf(bench.serverPid);
  let most = before;
  const watch = setInterval(() => (most = Math.max(most, memoryOf(bench.serverPid))), 20);
  let bytes = 0;
  for (let i = 0; i < runs; i += 1) {
    whole.push(await time(async () => (bytes = await pdf())));
    drawing.push(await time(() => draw(pages, paper)));
    first.push(await time(() => slice(1, 1)));
  }
  clearInterval(watch);
  const [ours, theirs] = [median(whole), median(drawing)];
  return [
    {
      what: 'grouped report of 10,000 rows to PDF',
      ours: `${(ours / 1000).toFixed(2)} s`,
      theirs: `pdfkit drawing the same boxes: ${(theirs / 1000).toFixed(2)} s`,
      ratio: ours / theirs,
      budget: '≤ 1.5',
      also: `${of} pages, ${(bytes / 1e6).toFixed(1)} MB; first page ${median(first).toFixed(0)} ms; server memory +${(most - before).toFixed(0)} MB`,
    },
  ];
}

const require = createRequire(import.meta.url);
const font = (name: string): string => require.resolve(`@fontsource/${name}-normal.woff`);
const fonts = {
  text: font('atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400'),
  bold: font('atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700'),
  title: font('literata/files/literata-latin-600'),
};

async function draw(pages: ReportPages['pages'], paper: ReportPages['paper']): Promise<void> {
  const document = new PDFDocument({ autoFirstPage: false });
  const read = buffer(document);
  for (const [name, file] of Object.entries(fonts)) document.registerFont(name, file);
  for (const page of pages) {
    document.addPage({ size: [paper.width, paper.height], margin: 0 });
    for (const box of page.boxes) {
      if (box.kind === 'rule') document.rect(box.x, box.y, box.width, box.height).fill('#857b69');
      else if (box.kind === 'text') {
        document.font(box.style.face).fontSize(box.style.size).fillColor('#24211b');
        for (const line of box.lines) document.text(line.text, line.x, line.baseline, { lineBreak: false, baseline: 'alphabetic' });
      }
    }
  }
  document.end();
  await read;
}
