/** How text becomes SQL, in one place. Values travel as parameters; names are quoted; nothing else is accepted. */

declare const compiled: unique symbol;
/** A statement that core compiled: the only kind that is run on the tables of an app. */
export interface Statement {
  readonly text: string;
  readonly params: readonly unknown[];
  readonly [compiled]: true;
}

/** PostgreSQL's quoting of an identifier (SQL:2016, 5.2 <delimited identifier>): a quote inside is doubled. */
export const ident = (name: string): string => `"${name.replaceAll('"', '""')}"`;

/** A text literal for DDL, where PostgreSQL takes no parameters. Standard-conforming strings: only quotes are doubled. */
export const literal = (text: string): string => `'${text.replaceAll("'", "''")}'`;

// Marks the place of a parameter while a statement is put together. No name or label holds these signs.
const [opens, closes] = ['\u0001', '\u0002'];
const places = /\u0001(\d+)\u0002/gu;

export class SqlBuilder {
  private readonly values: unknown[] = [];

  /** Adds a value as a parameter and returns what stands for it in the text. */
  param(value: unknown, cast?: string): string {
    const marker = `${opens}${this.values.push(value) - 1}${closes}`;
    return cast === undefined ? marker : `${marker}::${cast}`;
  }

  /** The statement. Parameters are numbered as they appear; those that the text came to do without are left out. */
  done(text: string): Statement {
    const used: number[] = [];
    const numbered = text.replace(places, (_, digits: string) => {
      const value = Number(digits);
      const known = used.indexOf(value);
      return `$${known < 0 ? used.push(value) : known + 1}`;
    });
    return { text: numbered, params: used.map((each) => this.values[each]) } as unknown as Statement;
  }
}

/** A statement without values, such as DDL. */
export const statement = (text: string): Statement => new SqlBuilder().done(text);

/** PostgreSQL's type of exact numbers: 26 digits before the decimal point and so many after it. */
export const numericType = (digits: number): string => `numeric(${26 + digits},${digits})`;
