import { AppDesignShape, type AppDesign } from '../design/design.js';
import { expressionIssues, structureIssues } from './check-design.js';
import type { DesignIssue } from './issues.js';
import type { UncheckedDesign } from './part.js';
import { upgraded } from './upgrade.js';
import { defaultRegion, type Region } from '../values/regions.js';

/** Raised by `parseDesign`: the issues say where and what. */
export class DesignInvalid extends Error {
  constructor(readonly issues: readonly DesignIssue[]) {
    super(`The design is not whole: ${JSON.stringify(issues.slice(0, 5))}`);
  }
}

/** Checks what Zod's shapes cannot. Expressions are only read in a design whose names resolve. */
function designIssues(design: UncheckedDesign): readonly DesignIssue[] {
  const issues = structureIssues(design);
  return issues.length > 0 ? issues : expressionIssues(design as AppDesign);
}

/**
 * The only way from outside to an `AppDesign`.
 * @throws DesignInvalid when a part has the wrong shape or refers to something that is not there
 */
export function parseDesign(json: unknown): AppDesign {
  const shape = AppDesignShape.safeParse(upgraded(json));
  if (!shape.success) throw new DesignInvalid(shape.error.issues.map((issue) => ({ code: 'shape', path: issue.path, problem: issue.message })));
  const issues = designIssues(shape.data);
  if (issues.length > 0) throw new DesignInvalid(issues);
  return shape.data as AppDesign;
}

/** A design that Bibliona has stored was checked when it was written. One of an earlier format is brought to the present one. */
export const storedDesign = (json: unknown): AppDesign =>
  (json as { readonly format?: unknown }).format === AppDesignShape.unwrap().shape.format.value ? (json as AppDesign) : parseDesign(json);

export const emptyDesign = (name: string, timeZone = 'UTC', region: Region = defaultRegion): AppDesign =>
  parseDesign({ format: 10, name, timeZone, region, tables: [], relationships: [], forms: [], lists: [] });
