/** Reads every cell of a column once and says what kind of field it could become. */
import type { Reading } from '../fields/kind.js';
import { fieldKindNames, fieldKinds, type FieldKind } from '../fields/kinds.js';
import { dateOrders, parseDate, type DateOrder } from '../values/dates.js';
import { minorDigits, unitMarked, type Unit } from '../values/units.js';
import { numberStyles, parseNumber, type NumberStyle } from '../values/numbers.js';
import { isTradeNumber } from './trade-number.js';

/** The kinds of field that a column of a file can become. */
export const newKinds = fieldKindNames.filter((kind) => fieldKinds[kind].cells.settingsFor !== null);

export const plainReading: Reading = { numbers: 'point', dates: 'dmy' };

export interface ColumnSurvey {
  readonly name: string;
  readonly kind: FieldKind;
  readonly reading: Reading;
  /** Decimal places of its numbers. */
  readonly digits: number;
  /** The unit beside each of its numbers: a percent sign or a currency. Null: none, or not all have the same. */
  readonly unit: Unit | null;
  /** The words of a choice, the most frequent first. */
  readonly choices: readonly string[];
  readonly filled: number;
  readonly rows: number;
  /** A few values as they are in the file. */
  readonly samples: readonly string[];
  /** What a person should look at, such as dates that could be read in two ways. */
  readonly note: string | null;
}

const recognisers = newKinds.flatMap((kind): (readonly [FieldKind, (text: string) => boolean])[] => {
  const { cells } = fieldKinds[kind];
  return 'recognises' in cells && cells.recognises !== undefined ? [[kind, cells.recognises]] : [];
});
const mostChoices = 12;
const longestChoice = 40;
const boolWords = new Set(['yes', 'no', 'y', 'n', 'true', 'false']);
/** So few numbers can be like those under barcodes by chance. */
const fewestTradeNumbers = 3;
// A number with more digits than this is a code, such as an account. So is one that begins with a needless zero.
const longestNumber = 15;
const plainWhole = /^-?(?:0|[1-9]\d{0,14})$/u;
// Not ending in 0, so that the digits are what they seem.
const plainDecimal = /^-?(?:0|[1-9]\d{0,14})\.\d{0,11}[1-9]$/u;
const isoDate = /^\d{4}-\d\d-\d\d$/u;
const clockTime = /^(?:[01]?\d|2[0-3]):[0-5]\d(?::[0-5]\d)?$/u;
/** A number without a mark, as in most cells. */
const isBare = /^[-+]?\d(?:.*\d)?$/u;
/** Digits with something beside them: a sign, a mark, digits; or a sign, digits, a mark. */
const marked = /^([-+−]?)\s*(?:([^\d\s.,'’+−-]{1,4})\s*([\d.,].*)|([\d.,].*[\d.,])\s*([^\d\s.,'’+−-]{1,4})|(\d)\s*([^\d\s.,'’+−-]{1,4}))$/u;
/** A date and time of ISO 8601, which reads alike everywhere. */
const moment = /^\d{4}-\d\d-\d\d[T ](?:[01]\d|2[0-3]):[0-5]\d(?::[0-5]\d(?:\.\d+)?)?Z?$/u;

export class ColumnTally {
  private styles = new Set<NumberStyle>(numberStyles);
  private orders = new Set<DateOrder>(dateOrders);
  private isCode = false;
  private canBeTradeNumber = true;
  private isWhole = true;
  private digits = 0;
  private canBeBool = true;
  private longest = 0;
  private hasBreaks = false;
  private filled = 0;
  private rows = 0;
  private readonly words = new Map<string, number>();
  private readonly samples: string[] = [];
  private canBeTime = true;
  private canBeMoment = true;
  private readonly recognised = new Map(recognisers);
  /** Beside the first number; undefined: there was none yet. */
  private unit: Unit | null | undefined;

  /** @param isTyped whether a mark in a number can only begin the fraction */
  constructor(private readonly isTyped = false) {}

  see(cell: string): void {
    this.rows += 1;
    const text = cell.trim();
    if (text === '') return;
    this.filled += 1;
    if (this.samples.length < 5 && !this.samples.includes(cell)) this.samples.push(cell.slice(0, 200));
    if (text.length > this.longest) this.longest = text.length;
    if (!this.hasBreaks && text.includes('\n')) this.hasBreaks = true;
    if (this.words.size <= mostChoices) this.words.set(text, (this.words.get(text) ?? 0) + 1);
    if (this.canBeBool && !boolWords.has(text.toLowerCase())) this.canBeBool = false;
    if (this.canBeTradeNumber && !isTradeNumber(text)) this.canBeTradeNumber = false;
    if (this.styles.size > 0) this.seeNumber(text);
    if (this.orders.size > 0) this.seeDate(text);
    for (const [kind, recognises] of this.recognised) if (!recognises(text)) this.recognised.delete(kind);
    if (this.canBeTime && !clockTime.test(text)) this.canBeTime = false;
    if (this.canBeMoment && !moment.test(text)) this.canBeMoment = false;
  }

  private seeDate(text: string): void {
    // ISO reads alike in every order: one look instead of three, for most of the dates there are.
    if (isoDate.test(text) && parseDate(text, 'ymd') !== null) return;
    for (const order of this.orders) if (parseDate(text, order) === null) this.orders.delete(order);
  }

  private seeNumber(written: string): void {
    const parts = isBare.test(written) ? null : marked.exec(written);
    const unit = parts === null ? null : unitMarked(parts[2] ?? parts[5] ?? parts[7] ?? '');
    // Numbers of different units are not numbers of one field.
    if ((parts !== null && unit === null) || (this.unit !== undefined && this.unit !== unit)) return this.styles.clear();
    this.unit = unit;
    const text = parts === null ? written : `${parts[1] ?? ''}${parts[3] ?? parts[4] ?? parts[6] ?? ''}`;
    // Every style reads plain digits alike, and most cells of most files are such.
    if (plainWhole.test(text)) return;
    if (plainDecimal.test(text) && !this.styles.has('comma') && !this.styles.has('space_comma')) {
      this.isWhole = false;
      this.digits = Math.max(this.digits, text.length - text.indexOf('.') - 1);
      return;
    }
    for (const style of this.styles) {
      const digits = parseNumber(text, style);
      if (digits === null) {
        this.styles.delete(style);
        continue;
      }
      // The digits are the same in every style that is left, up to where the fraction begins: the first one is believed.
      if (style !== this.style()) continue;
      const [whole = '', fraction = ''] = digits.split('.');
      if (fraction !== '') this.isWhole = false;
      if (fraction.length > this.digits) this.digits = fraction.length;
      if (whole.length > longestNumber || fraction.length > 12 || /^[-+]?0\d/u.test(text) || text.startsWith('+')) this.isCode = true;
    }
  }

  private style(): NumberStyle | undefined {
    for (const style of this.styles) return style;
    return undefined;
  }

  /** @param amounts how many of its cells the file formats as money, and the currency; null: none, or several currencies */
  result(name: string, amounts: { readonly currency: Unit; readonly cells: number } | null = null): ColumnSurvey {
    const style = this.style();
    // In single cells it is a slip.
    const isShown = amounts !== null && amounts.cells * 2 > this.filled && this.unit === null && this.digits <= minorDigits(amounts.currency);
    // Dates that begin with a year read alike in every order; they are told as what they are.
    const beginsWithYear = this.orders.has('ymd') && /^\s*\d{4}/u.test(this.samples[0] ?? '');
    const order = beginsWithYear ? 'ymd' : (['dmy', 'ymd', 'mdy'] as const).find((each) => this.orders.has(each));
    const base = {
      name,
      filled: this.filled,
      rows: this.rows,
      samples: this.samples,
      reading: { numbers: style ?? 'point', dates: order ?? 'dmy' },
      digits: this.unit === '%' ? this.digits : Math.max(this.digits, 1),
      unit: style === undefined ? null : isShown ? amounts.currency : (this.unit ?? null),
      choices: [] as readonly string[],
      note: null as string | null,
    };
    if (this.filled === 0) return { ...base, kind: 'text', note: 'Every cell of this column is empty.' };
    if (this.canBeBool && this.words.size <= 4) return { ...base, kind: 'yes_no' };
    if (this.canBeTradeNumber && this.words.size >= fewestTradeNumbers)
      return { ...base, kind: 'text', note: 'These are numbers of barcodes. As texts they keep each digit.' };
    if (style !== undefined && !this.isCode) {
      const { unit } = base;
      // Less than the smallest coin is not an amount of money, and nothing that calculates.
      if (unit !== null && unit !== '%' && this.digits > minorDigits(unit)) return { ...base, kind: 'text', unit: null };
      const both = !this.isTyped && style === 'point' && this.styles.has('comma') && !this.isWhole;
      const kind = unit === '%' ? 'percent' : unit !== null ? 'money' : this.isWhole ? 'whole' : 'decimal';
      return { ...base, kind, note: both ? 'The mark could group thousands or begin the fraction.' : null };
    }
    if (order !== undefined) {
      const both = this.orders.has('dmy') && this.orders.has('mdy') && this.samples.some((sample) => /^\s*\d{1,2}[-/. ]\d/u.test(sample));
      return { ...base, kind: 'date', note: both ? 'Every date reads both day first and month first. It is read day first.' : null };
    }
    if (this.canBeTime) return { ...base, kind: 'time' };
    if (this.canBeMoment) return { ...base, kind: 'date_and_time', reading: { ...base.reading, dates: 'ymd' } };
    for (const kind of this.recognised.keys()) return { ...base, kind };
    const words = [...this.words].sort((a, b) => b[1] - a[1]).map(([word]) => word);
    const distinctFolded = new Set(words.map((word) => word.toLowerCase()));
    if (
      words.length <= mostChoices &&
      this.longest <= longestChoice &&
      this.filled >= words.length * 4 &&
      distinctFolded.size === words.length &&
      !words.some((word) => /[\p{C}"]/u.test(word))
    )
      return { ...base, kind: 'choice', choices: words };
    return { ...base, kind: this.hasBreaks || this.longest > 200 ? 'long_text' : 'text' };
  }
}
