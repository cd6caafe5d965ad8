/** The syntax tree of an expression: what was written, with positions, before anything is known of names and types. */

/** A stretch of the text, in UTF-16 units, the end excluded. */
export interface At {
  readonly from: number;
  readonly to: number;
}

export type ArithmeticOp = '+' | '-' | '*' | '/' | '**';
export type CompareOp = '=' | '!=' | '<' | '<=' | '>' | '>=';

export interface Binding {
  readonly name: string;
  readonly at: At;
  readonly over: Syntax;
}

type Kinds =
  | { readonly kind: 'number'; readonly digits: string }
  | { readonly kind: 'string'; readonly value: string }
  | { readonly kind: 'boolean'; readonly value: boolean }
  | { readonly kind: 'null' }
  /** `@"2026-05-01"`: a date, time, date and time or duration by the look of its text. */
  | { readonly kind: 'at'; readonly text: string }
  | { readonly kind: 'name'; readonly name: string }
  | { readonly kind: 'path'; readonly of: Syntax; readonly name: string; readonly nameAt: At }
  | { readonly kind: 'filter'; readonly of: Syntax; readonly by: Syntax }
  | { readonly kind: 'call'; readonly name: string; readonly nameAt: At; readonly args: readonly Argument[] }
  | { readonly kind: 'arithmetic'; readonly op: ArithmeticOp; readonly left: Syntax; readonly right: Syntax }
  | { readonly kind: 'negative'; readonly of: Syntax }
  | { readonly kind: 'compare'; readonly op: CompareOp; readonly left: Syntax; readonly right: Syntax }
  | { readonly kind: 'between'; readonly of: Syntax; readonly low: Syntax; readonly high: Syntax }
  | { readonly kind: 'in'; readonly of: Syntax; readonly tests: readonly Syntax[] }
  /** `> 5` by itself, as it is behind `in`. */
  | { readonly kind: 'test'; readonly op: CompareOp; readonly right: Syntax }
  | { readonly kind: 'and' | 'or'; readonly left: Syntax; readonly right: Syntax }
  | { readonly kind: 'if'; readonly condition: Syntax; readonly then: Syntax; readonly otherwise: Syntax }
  | { readonly kind: 'for' | 'some' | 'every'; readonly bindings: readonly Binding[]; readonly body: Syntax }
  | { readonly kind: 'list'; readonly items: readonly Syntax[] }
  | { readonly kind: 'range'; readonly low: Syntax; readonly high: Syntax; readonly lowIncluded: boolean; readonly highIncluded: boolean }
  | { readonly kind: 'context'; readonly entries: readonly { readonly name: string; readonly value: Syntax }[] }
  | { readonly kind: 'instance'; readonly of: Syntax; readonly type: string }
  | { readonly kind: 'function'; readonly parameters: readonly string[]; readonly body: Syntax };

export type Syntax = At & Kinds;

export interface Argument {
  /** The parameter it is for, when it was named. */
  readonly name: string | null;
  readonly value: Syntax;
}

/** What is wrong with an expression, where, in a sentence for the person who wrote it. */
export interface Problem extends At {
  readonly message: string;
  /** What would be right in the place of the stretch, when there is a good guess. */
  readonly fix?: string;
}
