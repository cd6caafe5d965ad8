/**
 * `npm run website -- <address of a public form>`: a website on an address of its own that shows the form and the published list
 * of the demo within its page. The builder allows it by naming that address among the websites of each.
 */
import { readFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { pathToFileURL } from 'node:url';

export interface Website {
  readonly address: string;
  readonly close: () => Promise<void>;
}

/** @param form the address of a public form; `port` 0 takes any that is free */
export async function openWebsite(form: string, port = 0): Promise<Website> {
  const { origin, pathname } = new URL(form);
  const name = /^\/public\/(\w+\/\w+)$/u.exec(pathname)?.[1];
  if (name === undefined) throw new Error(`${form} is not the address of a public form`);
  const page = (await readFile(new URL('../demo/website/index.html', import.meta.url), 'utf8'))
    .replaceAll('SERVER', origin)
    .replaceAll('FORM', name)
    .replaceAll('APP', name.split('/')[0] ?? '');
  const server = createServer((_, response) => response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' }).end(page));
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
  return {
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) {
  const [form] = process.argv.slice(2);
  if (form === undefined) console.log('Give the address of a public form: npm run website -- http://127.0.0.1:4400/public/…/…');
  else console.log(`The website is at ${(await openWebsite(form, 4410)).address}. Add that address to the websites of the form and of the list.`);
}
