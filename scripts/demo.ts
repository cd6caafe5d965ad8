/** Loads the demo app once: through the same paths that people use, so that it cannot drift from them. */
import { createWriteStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { once } from 'node:events';
import { demoDesign, demoFiles, hiveDrawing, type DemoSize } from '@bibliona/demo';
import { asBuilder, contract, filesAs, personAs, richTextAs, type HeldFile } from '@bibliona/core';
import sharp from 'sharp';
import { loadFile, readConfig, startServer, type RunningServer } from '@bibliona/server';

export const demoPassword = 'quillmoor-honey';
export const demoPeople = [
  { name: 'Tamsin Oake', email: 'tamsin.oake@quillmoor.example', role: 'builder', roles: [], description: 'builds and keeps the app' },
  { name: 'Jorun Vasse', email: 'jorun.vasse@quillmoor.example', role: 'member', roles: ['coordinator'], description: 'runs the co-operative' },
  { name: 'Wystan Quill', email: 'wystan.quill@quillmoor.example', role: 'member', roles: ['keeper'], description: 'looks after apiaries of his own' },
  { name: 'Edda Roke', email: 'edda.roke@quillmoor.example', role: 'member', roles: ['lab'], description: 'tests the lots that are in the laboratory' },
  { name: 'Maud Larkin', email: 'maud.larkin@quillmoor.example', role: 'member', roles: ['shop'], description: 'orders for the Ottermere Larder' },
  { name: 'Corin Tarn', email: 'corin.tarn@quillmoor.example', role: 'member', roles: ['visitor'], description: 'reports swarms, and sees nothing else' },
] as const;

// The second line of the file of shops.
const demoShop = 2;

/** Makes demo people, app and records in a server's database. */
export async function loadDemo(server: RunningServer, files: string, size: DemoSize): Promise<string> {
  const people = [];
  for (const person of demoPeople) people.push({ ...person, ...(await server.people.add(person.name, person.email, demoPassword)) });
  const builder = people[0];
  if (builder === undefined) throw new Error('The demo has no builder');
  const app = await server.apps.make('Quillmoor Honey', builder, { timeZone: 'Europe/London' });
  await server.people.join(app, builder.id, 'builder');
  const as = asBuilder({ ...builder, mail: builder.email });
  for (const change of demoDesign) {
    const { version } = await server.apps.open(app, as);
    await server.apps.change(app, as, version, [change], false);
  }
  const keepers = new Map<string, number>();
  for (const file of demoFiles(size)) {
    const path = join(files, randomUUID());
    const out = createWriteStream(path);
    let row = 0;
    for (const line of file.lines()) {
      // The people of the demo are keepers too: the n-th row becomes the record of the number n.
      if (file.table === 'keepers') for (const person of demoPeople) if (line.startsWith(`${person.name},`)) keepers.set(person.name, row);
      row += 1;
      if (!out.write(line)) await once(out, 'drain');
    }
    out.end();
    await once(out, 'finish');
    await loadFile(server.database, { app, person: as, table: file.table, path, size: (await stat(path)).size });
    await rm(path);
  }
  for (const person of people) {
    const keeper = keepers.get(person.name);
    const ties = { ...(keeper === undefined ? {} : { tie_keeper: keeper }), ...(person.roles.some((role) => role === 'shop') ? { tie_shop: demoShop } : {}) };
    await server.people.join(app, person.id, person.role, person.roles, ties);
  }
  await addByHand(server, app, builder.email);
  return app;
}

/** How many hives have photos; the n-th has the drawings of n and, every third, one more. */
const photographed = 9;

/** How many swarms are assigned to somebody. */
const assigned = 3;
/** A signature as a hand draws it. */
const scribble =
  'M24 66L30 48L38 30L46 24L50 34L44 54L38 72L46 60L56 48L64 46L62 58L58 68L66 60L76 48L84 46L82 60L90 62L100 50L108 46L106 60L114 64L126 40L136 18L140 16L132 44L124 70L138 58L150 50L160 48L154 62L166 62L180 52L196 56L214 50L236 54L262 48M120 34L148 30';

const words = (text: string, ...marks: readonly string[]) => ({
  type: 'text',
  text,
  ...(marks.length === 0 ? {} : { marks: marks.map((type) => ({ type })) }),
});
const paragraph = (...content: readonly object[]) => ({ type: 'paragraph', content });
const items = (type: 'bulletList' | 'orderedList', ...lines: readonly string[]) => ({
  type,
  content: lines.map((line) => ({ type: 'listItem', content: [paragraph(words(line))] })),
});
const row = (type: 'tableHeader' | 'tableCell', ...cells: readonly string[]) => ({
  type: 'tableRow',
  content: cells.map((cell) => ({ type, content: [paragraph(words(cell))] })),
});
/** How the first remedies are given. */
const howTo = [
  {
    type: 'doc',
    content: [
      paragraph(words('Once, in the broodless weeks of winter, at '), words('3 to 8 °C', 'bold'), words('.')),
      { type: 'heading', attrs: { level: 2 }, content: [words('Step by step')] },
      items(
        'orderedList',
        'Warm the solution to 30 °C.',
        'Take the lid off and leave the frames where they are.',
        'Trickle it over the bees between the frames.',
      ),
      { type: 'heading', attrs: { level: 2 }, content: [words('How much')] },
      {
        type: 'table',
        content: [
          row('tableHeader', 'Colony', 'Dose'),
          row('tableCell', 'small', '30 ml'),
          row('tableCell', 'medium', '40 ml'),
          row('tableCell', 'large', '50 ml'),
        ],
      },
    ],
  },
  {
    type: 'doc',
    content: [
      paragraph(words('After the honey is taken. '), words('Wear gloves and goggles.', 'bold')),
      items('bulletList', 'Leave the entrance wide open.', 'Not above 30 °C.', 'Look for a queen after three weeks.'),
    ],
  },
];

/** What files don't bring: photos of hives, instructions with headings and lists, and swarms that are assigned and handed over. Saved as a browser does. */
async function addByHand(server: RunningServer, app: string, email: string): Promise<void> {
  const send = async (path: string, body: string | Uint8Array<ArrayBuffer>, headers: Readonly<Record<string, string>>): Promise<Response> => {
    const response = await fetch(`${server.address}${path}`, { method: 'POST', body, headers });
    if (!response.ok) throw new Error(`${path} answered ${response.status}: ${await response.text()}`);
    return response;
  };
  const json = { 'content-type': 'application/json' };
  const signedIn = await send(contract.signIn.path, JSON.stringify({ email, password: demoPassword }), json);
  const cookie = signedIn.headers
    .getSetCookie()
    .map((each) => each.split(';')[0])
    .join('; ');
  const upload = async (n: number, name: string): Promise<HeldFile> => {
    const bytes = await sharp(Buffer.from(hiveDrawing(n)))
      .jpeg({ quality: 82 })
      .toBuffer();
    const path = `/api/apps/${app}/files?name=${encodeURIComponent(name)}`;
    return (await (await send(path, new Uint8Array(bytes), { cookie, 'content-type': 'application/octet-stream' })).json()) as HeldFile;
  };
  const writes = [];
  for (let n = 1; n <= photographed; n += 1) {
    const photos = [await upload(n, `Hive ${n}.jpg`), ...(n % 3 === 0 ? [await upload(n + 100, `Hive ${n}, opened.jpg`)] : [])];
    writes.push({ kind: 'change', table: 'hives', id: n, rev: 1, values: { hive_photos: filesAs(photos) } });
  }
  for (const [i, who] of demoPeople.slice(0, assigned).entries()) {
    const isSigned = i > 0;
    const values = { swarm_for: personAs({ name: who.name, mail: who.email }), ...(isSigned ? { swarm_signed: scribble } : {}) };
    writes.push({ kind: 'change', table: 'swarms', id: i + 1, rev: 1, values });
  }
  for (const [i, doc] of howTo.entries()) writes.push({ kind: 'change', table: 'treatments', id: i + 1, rev: 1, values: { treatment_how: richTextAs(doc) } });
  await send(contract.saveRecords.path.replace(':app', app), JSON.stringify({ key: randomUUID(), writes }), { cookie, ...json });
}

/** Loads the demo unless there are people already; true when the demo people are there. */
export async function ensureDemo(url: string, files: string): Promise<boolean> {
  const server = await startServer(readConfig({ DATABASE_URL: url, PORT: '0', FILES: files, WEB: '', MAIL_FROM: 'honey@quillmoor.example', LOG: 'error' }));
  try {
    if (await server.people.needsSetUp()) {
      console.log('Loading the demo: the Quillmoor Honey Co-operative ...');
      await loadDemo(server, files, 'demo');
    }
    return await server.people.exists(demoPeople[0].email);
  } finally {
    await server.close();
  }
}
