import { designFromFile, DesignInvalid, designMessage, storedDesign, type AppDesign, type DesignTarget } from '@bibliona/core';
import type { EntityManager } from 'typeorm';
import { DesignVersions } from '../db/entities.js';
import { Refusal } from '../http/refusal.js';

/** So much of what is wrong in a file is told. */
const mostIssues = 5;

/** A version of the design, and what was said of it in the log. @throws Refusal not_found */
export async function designAt(manager: EntityManager, app: string, version: number): Promise<{ readonly design: AppDesign; readonly says: string }> {
  const row = await manager.findOneBy(DesignVersions, { appId: app, version });
  if (row === null) throw new Refusal('not_found', 'This version of the app is not kept.');
  return { design: storedDesign(row.design), says: row.says };
}

/**
 * What the design of an app is to become, and what is said of it in the log.
 * @throws Refusal not_found (no such version), invalid (what is wrong in the file, and where)
 */
export async function designTarget(
  manager: EntityManager,
  app: string,
  to: DesignTarget,
  now: AppDesign,
): Promise<{ readonly design: AppDesign; readonly says: string }> {
  if (to.kind === 'version') {
    const { design, says } = await designAt(manager, app, to.version);
    return { design, says: `Restored version ${to.version}: ${says}` };
  }
  try {
    return { design: designFromFile(to.design, now), says: `Took the design of ${to.name}` };
  } catch (error) {
    if (!(error instanceof DesignInvalid)) throw error;
    const told = error.issues.slice(0, mostIssues).map(designMessage).join(' ');
    const more = error.issues.length > mostIssues ? ` And ${error.issues.length - mostIssues} more.` : '';
    throw new Refusal('invalid', `${told}${more}`);
  }
}
