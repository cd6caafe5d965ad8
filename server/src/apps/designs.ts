import { parseDesign, type AppDesign } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { DesignVersions } from '../db/entities.js';

/** Designs by app and version. A version never changes, so what was read once is right for ever, in every process. */
export class Designs {
  private readonly newest = new Map<string, { readonly version: number; readonly design: AppDesign }>();

  constructor(private readonly database: DataSource) {}

  async at(app: string, version: number): Promise<AppDesign> {
    const known = this.newest.get(app);
    if (known?.version === version) return known.design;
    const row = await this.database.getRepository(DesignVersions).findOneByOrFail({ appId: app, version });
    const design = parseDesign(row.design);
    if (known === undefined || known.version < version) this.newest.set(app, { version, design });
    return design;
  }
}
