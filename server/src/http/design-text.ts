import type { AppDesign, OpenApp } from '@bibliona/core';

/** The JSON of parts that were written before, for as long as they are in use. */
const written = new WeakMap<object, string>();

function textOf(part: unknown): string {
  if (typeof part !== 'object' || part === null) return JSON.stringify(part);
  const text = written.get(part) ?? JSON.stringify(part);
  written.set(part, text);
  return text;
}

/**
 * A design as JSON. After a change nearly all parts are the objects that they were, so only a few are written anew: of an app with 300
 * tables, writing everything in one piece would delay everybody else's requests.
 */
export function designText(design: AppDesign | OpenApp['design']): string {
  const entries = Object.entries(design).flatMap(([name, value]: [string, unknown]) =>
    value === undefined ? [] : [`${JSON.stringify(name)}:${Array.isArray(value) ? `[${value.map(textOf).join(',')}]` : textOf(value)}`],
  );
  return `{${entries.join(',')}}`;
}

/** An opened app as JSON, its design by the texts of its parts. */
export const openAppText = ({ design, ...others }: OpenApp): string => `${JSON.stringify(others).slice(0, -1)},"design":${designText(design)}}`;
