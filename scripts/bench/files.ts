import { contract, fieldKinds, FieldPlan, filesAs, type FieldKind, type HeldFile, type OpenApp } from '@bibliona/core';
import { randomBytes, randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { median, memoryOf, pause, time, type Bench, type Line } from './bench.js';

const [uploads, atOnce, size] = [1000, 2, 200_000];
const [records, runs] = [100, 40];

/** What uploads cost the server in memory, and what a page costs more whose records hold images, people and addresses. */
export async function benchFiles(bench: Bench): Promise<Line[]> {
  const { id } = (await bench.call('POST', contract.makeApp.path, { name: 'Files' })) as OpenApp;
  const field = (kind: FieldKind, i: number, more: object = {}): FieldPlan =>
    FieldPlan.parse({ ...fieldKinds[kind].sample.settings[0], ...more, kind, id: `f_${kind}_${i}`, name: `Field ${kind} ${i}` });
  const table = (name: string, fields: readonly FieldPlan[]) =>
    ({ kind: 'add_table', id: name, name, description: '', section: '', form: `fm_${name}`, list: `l_${name}`, fields }) as const;
  const plain = table(
    'plain',
    [1, 2, 3, 4, 5].map((i) => field('text', i)),
  );
  const rich = table('rich', [field('image', 0), field('image', 1), field('person', 0), field('several_choices', 0), field('address', 0)]);
  await bench.call('POST', contract.changeDesign.path.replace(':app', id), { version: 1, changes: [plain, rich] });

  const send = async (name: string, bytes: Uint8Array<ArrayBuffer>): Promise<HeldFile> => {
    const answer = await fetch(`${bench.address}/api/apps/${id}/files?name=${name}`, { method: 'POST', headers: { cookie: bench.cookie }, body: bytes });
    if (!answer.ok) throw new Error(await answer.text());
    return (await answer.json()) as HeldFile;
  };
  await send('first.data', new Uint8Array(randomBytes(size)));
  await pause(1000);
  const before = memoryOf(bench.serverPid);
  let most = before;
  const began = performance.now();
  await Promise.all(
    Array.from({ length: atOnce }, async () => {
      for (let i = 0; i < uploads / atOnce; i += 1) {
        await send('some.data', new Uint8Array(randomBytes(size)));
        most = Math.max(most, memoryOf(bench.serverPid));
      }
    }),
  );
  const took = (performance.now() - began) / 1000;

  const photos: HeldFile[] = [];
  for (let i = 0; i < 20; i += 1) {
    const drawn = await sharp({ create: { width: 800, height: 600, channels: 3, background: { r: i * 12, g: 120, b: 90 } } })
      .jpeg()
      .toBuffer();
    photos.push(await send(`Photo-${i}.jpg`, new Uint8Array(drawn)));
  }
  const photo = (i: number): string | null => filesAs([photos[i % photos.length] as HeldFile]);
  const writes = Array.from({ length: records }, (_, i) => [
    { kind: 'add', table: 'plain', as: `p${i}`, values: Object.fromEntries([1, 2, 3, 4, 5].map((n) => [`f_text_${n}`, `Text ${i} of ${n}`])) },
    {
      kind: 'add',
      table: 'rich',
      as: `r${i}`,
      values: {
        f_image_0: photo(i),
        f_image_1: photo(i + 7),
        f_person_0: 'bench@quillmoor.example',
        f_several_choices_0: i % 2 === 0 ? 'lime\nclover' : 'heather',
        f_address_0: `${i} Mill Lane\n\nQM1 ${i % 10}HN\nQuillmoor\n\nUnited Kingdom`,
      },
    },
  ]).flat();
  await bench.call('POST', contract.saveRecords.path.replace(':app', id), { key: randomUUID(), writes });
  const page = (of: string) => time(() => bench.call('GET', `/api/apps/${id}/tables/${of}/page?limit=${records}`));
  const [ours, theirs]: [number[], number[]] = [[], []];
  for (let i = 0; i < runs; i += 1) {
    ours.push(await page('rich'));
    theirs.push(await page('plain'));
  }
  return [
    {
      what: `${uploads.toLocaleString('en-GB')} uploads of 200 kB`,
      ours: `server memory at most +${Math.round(most - before)} MB`,
      theirs: 'wanted at most +100 MB',
      ratio: (most - before) / 100,
      budget: '≤ 1',
      also: `${atOnce} at a time, ${(uploads / took).toFixed(0)} a second, kept in PostgreSQL`,
    },
    {
      what: 'a page of 100 records with two images, a person, several choices and an address',
      ours: `${median(ours).toFixed(1)} ms`,
      theirs: `five texts: ${median(theirs).toFixed(1)} ms`,
      ratio: median(ours) / median(theirs),
      budget: 'recorded',
      also: 'over HTTP, as its builder; the images themselves are asked for one by one as they come into view',
    },
  ];
}
