import { designFromFile, DesignInvalid, designMessage, storedDesign, type AppDesign, type DesignTarget } from '@bibliona/core';
import type { EntityManager } from 'typeorm';
import { DesignVersions, type AppRow } from '../db/entities.js';
import { Refusal } from '../http/refusal.js';
import { wayThere, type Way } from './way.js';

/** So much of what is wrong in a file is told. */
const mostIssues = 5;

/** A version of the design, and what was said of it in the log. @throws Refusal not_found */
export async function designAt(manager: EntityManager, app: string, version: number): Promise<{ readonly design: AppDesign; readonly description: string }> {
  const row = await manager.findOneBy(DesignVersions, { appId: app, version });
  if (row === null) throw new Refusal('not_found', 'This version of the app is not kept.');
  return { design: storedDesign(row.design), description: row.description };
}

/**
 * The way to what the design of an app is to become, and what is said of it in the log.
 * @throws Refusal not_found (no such version), invalid (what is wrong in the file, and where; why it can't be rearranged)
 */
export async function designTarget(
  manager: EntityManager,
  app: AppRow,
  to: DesignTarget,
  before: AppDesign,
): Promise<{ readonly way: Way; readonly description: string }> {
  if (to.kind === 'rearranged') {
    const { description, ...way } = wayThere(before, to.plan, app.schema);
    return { way, description };
  }
  if (to.kind === 'version') {
    const { design, description } = await designAt(manager, app.id, to.version);
    return { way: { before, after: design, over: null }, description: `Restored version ${to.version}: ${description}` };
  }
  try {
    return { way: { before, after: designFromFile(to.design, before), over: null }, description: `Took the design of ${to.name}` };
  } catch (error) {
    if (!(error instanceof DesignInvalid)) throw error;
    const told = error.issues.slice(0, mostIssues).map(designMessage).join(' ');
    const more = error.issues.length > mostIssues ? ` And ${error.issues.length - mostIssues} more.` : '';
    throw new Refusal('invalid', `${told}${more}`);
  }
}
