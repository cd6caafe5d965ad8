/** Workbooks as other programs write them, made part by part. */
import { buffer } from 'node:stream/consumers';
import type { Readable } from 'node:stream';
import { ZipFile } from 'yazl';

export async function zipOf(parts: Readonly<Record<string, string | Buffer>>): Promise<Buffer> {
  const zip = new ZipFile();
  for (const [name, content] of Object.entries(parts)) zip.addBuffer(Buffer.from(content), name);
  zip.end();
  return buffer(zip.outputStream as Readable);
}

export interface WorkbookParts {
  /** The rows of each sheet as XML, by its name; `hidden` before a name hides the sheet. */
  readonly sheets: Readonly<Record<string, string>>;
  readonly strings?: string;
  readonly styles?: string;
  readonly since1904?: boolean;
}

const main = 'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"';
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

export function workbookOf({ sheets, strings = '', styles = '', since1904 = false }: WorkbookParts): Promise<Buffer> {
  const names = Object.keys(sheets);
  const relation = (id: string, type: string, target: string): string => `<Relationship Id="${id}" Type="${office}/${type}" Target="${target}"/>`;
  const relations = (...all: string[]): string =>
    `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${all.join('')}</Relationships>`;
  const sheet = (name: string, i: number): string =>
    `<x:sheet name="${name.replace(/^hidden /u, '')}" sheetId="${i + 1}"${name.startsWith('hidden ') ? ' state="hidden"' : ''} r:id="rId${i + 1}"/>`;
  return zipOf({
    '_rels/.rels': relations(relation('rId1', 'officeDocument', '/xl/workbook.xml')),
    // With a prefix, as some programs have it.
    'xl/workbook.xml': `<x:workbook xmlns:x="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="${office}"><x:workbookPr date1904="${since1904}"/><x:sheets>${names.map(sheet).join('')}</x:sheets></x:workbook>`,
    'xl/_rels/workbook.xml.rels': relations(
      ...names.map((_, i) => relation(`rId${i + 1}`, 'worksheet', `worksheets/Sheet${i + 1}.xml`)),
      relation('rId98', 'sharedStrings', 'sharedStrings.xml'),
      relation('rId99', 'styles', 'styles.xml'),
    ),
    'xl/sharedStrings.xml': `<sst ${main}>${strings}</sst>`,
    'xl/styles.xml': `<styleSheet ${main}>${styles}</styleSheet>`,
    ...Object.fromEntries(names.map((name, i) => [`xl/worksheets/sheet${i + 1}.xml`, `<worksheet ${main}>${sheets[name] ?? ''}</worksheet>`])),
  });
}

/** Rows of cells: numbers as they are, texts inline; null leaves a cell out. */
export const sheetOf = (rows: readonly (readonly (string | number | null)[])[], more = ''): string =>
  `<sheetData>${rows
    .map(
      (row, at) =>
        `<row r="${at + 1}">${row
          .map((cell, i) => {
            const place = `${String.fromCharCode(65 + i)}${at + 1}`;
            if (cell === null) return '';
            return typeof cell === 'number' ? `<c r="${place}"><v>${cell}</v></c>` : `<c r="${place}" t="inlineStr"><is><t>${cell}</t></is></c>`;
          })
          .join('')}</row>`,
    )
    .join('')}</sheetData>${more}`;

/** The same zip, of which one part says that it is smaller than it is. */
export async function lyingZip(parts: Readonly<Record<string, string | Buffer>>, name: string): Promise<Buffer> {
  const bytes = await zipOf(parts);
  const large = Buffer.alloc(4);
  large.writeUInt32LE(Buffer.byteLength(parts[name] ?? ''));
  const small = Buffer.alloc(4);
  small.writeUInt32LE(10);
  for (let at = bytes.indexOf(large); at >= 0; at = bytes.indexOf(large, at + 4)) small.copy(bytes, at);
  return bytes;
}
