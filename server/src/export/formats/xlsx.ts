/** A workbook (ECMA-376) that is written as its rows are read: what a cell can't hold exactly is a text in it. */
import { Readable } from 'node:stream';
import { once } from 'node:events';
import { cutMark, isoOf, wallClock } from '@bibliona/core';
import { ZipFile } from 'yazl';
import { cellText, type ExportColumn, type ExportRow, type ExportSheet, type FormatWriter } from './format.js';

/** As many rows as a sheet has, and as many characters as a cell. */
const [rowsOfSheet, mostCharacters] = [1_048_576, 32_767];

const head = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const packaged = 'http://schemas.openxmlformats.org/package/2006';

export const xlsx: FormatWriter = (sheet) => writeWorkbook(sheet, rowsOfSheet);

/** @param mostRows with the heading; what is beyond goes on in another sheet */
export function writeWorkbook(sheet: ExportSheet, mostRows: number): Readable {
  const zip = new ZipFile();
  const out = zip.outputStream as Readable;
  const fail = (error: unknown): void => void out.destroy(error instanceof Error ? error : new Error(String(error)));
  zip.on('error', fail);
  void write(zip, sheet, mostRows).catch(fail);
  return out;
}

async function write(zip: ZipFile, sheet: ExportSheet, mostRows: number): Promise<void> {
  const rows = new RowSource(sheet);
  const sheets: string[] = [];
  do {
    sheets.push(sheetName(sheet.title, sheets.length));
    const part = Readable.from(sheetXml(sheet, rows, mostRows));
    const ended = once(part, 'end');
    zip.addReadStream(part, `xl/worksheets/sheet${sheets.length}.xml`, { compressionLevel: 3 });
    await ended;
  } while (await rows.hasMore());
  const add = (name: string, xml: string): void => zip.addBuffer(Buffer.from(head + xml), name);
  add(
    'xl/workbook.xml',
    `<workbook xmlns="${main}" xmlns:r="${office}"><sheets>${sheets.map((name, i) => `<sheet name="${escaped(name)}" sheetId="${i + 1}" r:id="rId${i + 1}"/>`).join('')}</sheets></workbook>`,
  );
  add(
    'xl/_rels/workbook.xml.rels',
    relations([...sheets.map((_, i) => ['worksheet', `worksheets/sheet${i + 1}.xml`] as const), ['styles', 'styles.xml'] as const]),
  );
  add('xl/styles.xml', stylesXml);
  add('_rels/.rels', relations([['officeDocument', 'xl/workbook.xml']]));
  const kind = 'application/vnd.openxmlformats-officedocument.spreadsheetml';
  const parts = sheets.map((_, i) => `<Override PartName="/xl/worksheets/sheet${i + 1}.xml" ContentType="${kind}.worksheet+xml"/>`).join('');
  add(
    '[Content_Types].xml',
    `<Types xmlns="${packaged}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="${kind}.sheet.main+xml"/><Override PartName="/xl/styles.xml" ContentType="${kind}.styles+xml"/>${parts}</Types>`,
  );
  zip.end();
}

const relations = (parts: readonly (readonly [type: string, target: string])[]): string =>
  `<Relationships xmlns="${packaged}/relationships">${parts.map(([type, target], i) => `<Relationship Id="rId${i + 1}" Type="${office}/${type}" Target="${target}"/>`).join('')}</Relationships>`;

/** Names of sheets are short and have none of these signs. */
function sheetName(title: string, place: number): string {
  const end = place === 0 ? '' : ` ${place + 1}`;
  const plain = title
    .replace(/[[\]:*?/\\\p{C}]/gu, ' ')
    .replace(/^'+|'+$/gu, '')
    .trim();
  return `${(plain === '' ? 'Records' : plain).slice(0, 31 - end.length)}${end}`;
}

/** Hands out rows one after the other, over the limits of pages and sheets. */
class RowSource {
  private page: readonly ExportRow[] = [];
  private at = 0;
  private readonly pages: AsyncIterator<readonly ExportRow[]>;

  constructor(sheet: ExportSheet) {
    this.pages = sheet.pages[Symbol.asyncIterator]();
  }

  /** The next rows, at most so many; none when there are no more. */
  async next(most: number): Promise<readonly ExportRow[]> {
    if (!(await this.hasMore())) return [];
    const rows = this.page.slice(this.at, this.at + most);
    this.at += rows.length;
    return rows;
  }

  async hasMore(): Promise<boolean> {
    while (this.at >= this.page.length) {
      const next = await this.pages.next();
      if (next.done === true) return false;
      this.page = next.value;
      this.at = 0;
    }
    return true;
  }
}

// The styles of cells, by their places: as it comes, heading, day, moment, time.
const styles = { plain: 0, heading: 1, date: 2, moment: 3, time: 4 } as const;
const stylesXml = `<styleSheet xmlns="${main}"><numFmts count="3"><numFmt numFmtId="164" formatCode="yyyy\\-mm\\-dd"/><numFmt numFmtId="165" formatCode="yyyy\\-mm\\-dd\\ hh:mm:ss"/><numFmt numFmtId="166" formatCode="hh:mm:ss"/></numFmts><fonts count="2"><font><sz val="11"/><name val="Calibri"/></font><font><b/><sz val="11"/><name val="Calibri"/></font></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="5"><xf numFmtId="0"/><xf numFmtId="0" fontId="1" applyFont="1"/>${[164, 165, 166].map((id) => `<xf numFmtId="${id}" applyNumberFormat="1"/>`).join('')}</cellXfs></styleSheet>`;

async function* sheetXml(sheet: ExportSheet, rows: RowSource, mostRows: number): AsyncGenerator<string> {
  const { columns, zone } = sheet;
  const wall = wallClock(zone);
  const letters = columns.map((_, i) => columnLetters(i + 1));
  let page = await rows.next(mostRows - 1);
  const widths = columns.map((column, at) => {
    const longest = Math.max(column.name.length, ...page.slice(0, 200).map((row) => cellText(row[at] ?? null).length));
    return Math.min(60, Math.max(8, longest + 2));
  });
  const cols = columns.map(
    (column, i) => `<col min="${i + 1}" max="${i + 1}" width="${widths[i]}" customWidth="1"${column.isHidden === true ? ' hidden="1"' : ''}/>`,
  );
  yield `${head}<worksheet xmlns="${main}"><sheetViews><sheetView workbookViewId="0"><pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews><cols>${cols.join('')}</cols><sheetData><row r="1">${columns.map((column, i) => words(column.name, `${letters[i]}1`, styles.heading)).join('')}</row>`;
  let line = 1;
  while (page.length > 0) {
    let part = '';
    for (const row of page) {
      line += 1;
      part += `<row r="${line}">`;
      for (const [at, column] of columns.entries()) part += cell(cellText(row[at] ?? null), column, wall, `${letters[at]}${line}`);
      part += '</row>';
    }
    yield part;
    page = line >= mostRows ? [] : await rows.next(mostRows - line);
  }
  yield '</sheetData></worksheet>';
}

/** XML has no place for these signs (XML 1.0, 2.2); the way out is ECMA-376's own, part 1, 22.9.2.19. */
const unwritable = /[\u0000-\u0008\u000b-\u001f\ufffe\uffff]|_(?=x[0-9A-Fa-f]{4}_)|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/gu;
const escaped = (text: string): string =>
  text
    .replace(unwritable, (sign) => `_x${sign.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}_`)
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');

/** The name of a column of a sheet: 1 is A, 27 is AA. */
const columnLetters = (number: number): string =>
  number <= 26 ? String.fromCharCode(64 + number) : `${columnLetters(Math.floor((number - 1) / 26))}${columnLetters(((number - 1) % 26) + 1)}`;

const attributes = (at: string, style: number): string => `r="${at}"${style === 0 ? '' : ` s="${style}"`}`;

function words(text: string, at: string, style: number = styles.plain): string {
  const said = text.length > mostCharacters ? `${text.slice(0, mostCharacters - cutMark.length)}${cutMark}` : text;
  return `<c ${attributes(at, style)} t="inlineStr"><is><t xml:space="preserve">${escaped(said)}</t></is></c>`;
}

const number = (value: string | number, at: string, style: number): string => `<c ${attributes(at, style)}><v>${value}</v></c>`;

/** A number of at most 15 digits is the same number in every program. */
const exactNumber = /^-?\d+(?:\.\d+)?$/u;
const digitsOf = (text: string): number => text.replace(/^-?0*\.?0*|[.]|^-/gu, '').length;

function cell(text: string, { type }: ExportColumn, wall: (instant: string) => string | null, at: string): string {
  if (text === '') return '';
  switch (type) {
    case 'number':
      return exactNumber.test(text) && digitsOf(text) <= 15 ? number(text, at, styles.plain) : words(text, at);
    case 'boolean':
      return text === 'yes' || text === 'no' ? `<c r="${at}" t="b"><v>${text === 'yes' ? 1 : 0}</v></c>` : words(text, at);
    case 'date': {
      const serial = serialOf(text);
      return serial === null ? words(text, at) : number(serial, at, styles.date);
    }
    case 'time': {
      const part = partOfDay(text);
      return part === null ? words(text, at) : number(part, at, styles.time);
    }
    case 'date and time': {
      const [day = '', time = ''] = (wall(text) ?? '').split(' ');
      const [serial, part] = [serialOf(day), partOfDay(time)];
      return serial === null || part === null ? words(text, at) : number(serial + part, at, styles.moment);
    }
    default:
      return words(text, at);
  }
}

/** The number of a day since 1900; days before 1901 have others in some programs, and stay texts. */
function serialOf(day: string): number | null {
  const [year = 0, month = 0, date = 0] = day.split('-').map(Number);
  if (isoOf(year, month, date) !== day || year < 1901) return null;
  return Math.round((Date.UTC(year, month - 1, date) - Date.UTC(1899, 11, 30)) / 86_400_000);
}

function partOfDay(time: string): number | null {
  const [, hours, minutes, seconds = '0'] = /^(\d\d):(\d\d)(?::(\d\d))?$/u.exec(time) ?? [];
  return hours === undefined ? null : (Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds)) / 86_400;
}
