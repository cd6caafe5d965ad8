/**
 * The entries of the lists in a JSON text (RFC 8259), cut out of its bytes as they come. Only where an entry begins and ends is
 * looked for here; what is in it `JSON.parse` reads, which is many times faster than any reader of tokens in JavaScript.
 */

/** `lines`: entry after entry; `list`: one list of them; `lists`: an object with a list for each of its names. */
export type JsonForm = 'lines' | 'list' | 'lists';

/** Raised where the text is not JSON or not of this form. */
export class NotJson extends Error {}

const [quote, backslash, comma, colon] = [0x22, 0x5c, 0x2c, 0x3a];
const [openList, closeList, openObject, closeObject] = [0x5b, 0x5d, 0x7b, 0x7d];
const isBlank = (byte: number): boolean => byte === 0x20 || byte === 0x0a || byte === 0x0d || byte === 0x09;

/** How deep entries are: those of a list are within one bracket. */
const depthOf: Readonly<Record<JsonForm, number>> = { lines: 0, list: 1, lists: 2 };

/** @param onEntry called with the name of the list (empty where there is one only) and the text of each entry */
export class JsonEntries {
  private depth = 0;
  private isString = false;
  private isEscaped = false;
  /** Bytes of the entry, or of the name, that has begun. */
  private parts: Buffer[] = [];
  private pending = 0;
  private isWithin = false;
  /** Whether what is between the brackets at the depth of entries is a list. */
  private isList = false;
  private name = '';
  private isName = false;
  private hasBegun = false;
  private isAfterComma = false;

  constructor(
    private readonly form: JsonForm,
    private readonly onEntry: (list: string, text: string) => void,
  ) {}

  /** Bytes that wait for the end of their entry. */
  get waiting(): number {
    return this.pending;
  }

  /** @throws NotJson, or what `onEntry` raises */
  push(chunk: Buffer): void {
    let from = 0;
    for (let i = 0; i < chunk.length; i += 1) {
      if (this.isString) {
        i = this.endOfString(chunk, i);
        if (i >= chunk.length) break;
        if (this.isName && this.depth === 1) {
          this.name = JSON.parse(this.take(chunk, from, i + 1)) as string;
          this.isName = false;
        }
        continue;
      }
      const byte = chunk[i] as number;
      if (isBlank(byte)) {
        if (this.form === 'lines' && this.isWithin && this.depth === 0) this.end(chunk, from, i);
        continue;
      }
      if (this.isEntryPlace() && !this.isWithin && byte !== comma && byte !== closeList) {
        this.isWithin = true;
        from = i;
      }
      switch (byte) {
        case quote:
          this.isString = true;
          if (this.form === 'lists' && this.depth === 1 && !this.isWithin) {
            this.isName = true;
            from = i;
          }
          break;
        case openList:
        case openObject:
          this.open(byte);
          break;
        case closeList:
        case closeObject:
          this.close(chunk, from, i, byte);
          break;
        case comma:
          if (this.isWithin && this.isEntryPlace()) {
            if (this.form === 'lines') throw new NotJson('a comma between entries');
            this.end(chunk, from, i);
            this.isAfterComma = true;
          } else if (this.isEntryPlace()) throw new NotJson('an entry is missing');
          break;
        case colon:
          break;
        default:
          if (!this.hasBegun && this.form !== 'lines') throw new NotJson('no list');
      }
    }
    if (this.isWithin || this.isName) this.keep(chunk, from);
  }

  /** @throws NotJson when the text breaks off */
  finish(): void {
    if (this.form === 'lines' && this.isWithin && this.depth === 0) this.end(Buffer.alloc(0), 0, 0);
    if (this.depth > 0 || this.isString || this.isWithin) throw new NotJson('breaks off');
  }

  /** Whether an entry can begin or end here. */
  private isEntryPlace(): boolean {
    return this.depth === depthOf[this.form] && (this.form === 'lines' || this.isList);
  }

  private open(byte: number): void {
    const first = this.form === 'lists' ? openObject : openList;
    if (!this.hasBegun && this.form !== 'lines' && byte !== first) throw new NotJson('not of this form');
    this.hasBegun = true;
    this.depth += 1;
    if (this.depth === depthOf[this.form] && !this.isWithin) {
      this.isList = byte === openList;
      this.isAfterComma = false;
    }
  }

  private close(chunk: Buffer, from: number, at: number, byte: number): void {
    if (this.isEntryPlace() && this.form !== 'lines') {
      if (byte !== closeList) throw new NotJson('a bracket too many');
      if (this.isWithin) this.end(chunk, from, at);
      else if (this.isAfterComma) throw new NotJson('an entry is missing');
      this.isList = false;
    }
    this.depth -= 1;
    if (this.depth < 0) throw new NotJson('a bracket too many');
    if (this.form === 'lines' && this.depth === 0) this.end(chunk, from, at + 1);
  }

  private end(chunk: Buffer, from: number, to: number): void {
    this.isWithin = false;
    this.isAfterComma = false;
    this.onEntry(this.name, this.take(chunk, from, to));
  }

  private keep(chunk: Buffer, from: number): void {
    const rest = Buffer.from(chunk.subarray(from));
    this.parts.push(rest);
    this.pending += rest.length;
  }

  private take(chunk: Buffer, from: number, to: number): string {
    if (this.parts.length === 0) return chunk.toString('utf8', from, to);
    // What was kept came before this chunk: it goes on at its beginning.
    const text = Buffer.concat([...this.parts, chunk.subarray(0, to)]).toString('utf8');
    this.parts = [];
    this.pending = 0;
    return text;
  }

  /** The place of the quote that closes the string, or the end of the chunk. */
  private endOfString(chunk: Buffer, start: number): number {
    for (let i = start; i < chunk.length; i += 1) {
      if (this.isEscaped) {
        this.isEscaped = false;
        continue;
      }
      const byte = chunk[i];
      if (byte === backslash) this.isEscaped = true;
      else if (byte === quote) {
        this.isString = false;
        return i;
      }
    }
    return chunk.length;
  }
}

const tokens = /"(?:[^"\\]|\\.)*"|-?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?/gu;
const isInexact = /\d{16}|\.\d{13}|\d[eE][-+]?\d/u;

/** A value with the numbers that JavaScript would change or write with an exponent as texts, as `exact` writes them. */
export function parseExactly(text: string, exact: (number: string) => string): unknown {
  if (!isInexact.test(text)) return JSON.parse(text);
  // Read as it is first: quotes around a number could mend what is no JSON.
  JSON.parse(text);
  return JSON.parse(
    text.replace(tokens, (token) =>
      token.startsWith('"') || (String(Number(token)) === token && !isInexact.test(token)) ? token : JSON.stringify(exact(token)),
    ),
  );
}
