/** How text becomes SQL, in one place. Values travel as parameters; names are quoted; nothing else is let in. */

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

export class SqlBuilder {
  private readonly params: unknown[] = [];

  /** Adds a value as a parameter and returns its placeholder. */
  param(value: unknown, cast?: string): string {
    this.params.push(value);
    return cast === undefined ? `$${this.params.length}` : `$${this.params.length}::${cast}`;
  }

  done(text: string): Statement {
    return { text, params: this.params } as unknown as Statement;
  }
}

/** A statement without values, such as DDL. */
export const statement = (text: string): Statement => new SqlBuilder().done(text);
