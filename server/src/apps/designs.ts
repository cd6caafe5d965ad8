import { storedDesign, type AppDesign } from '@bibliona/core';
import { LRUCache } from 'lru-cache';
import type { DataSource, EntityManager } from 'typeorm';
import { Apps, DesignVersions } from '../db/entities.js';

/** Designs by app and version. A version never changes, so what was read once is right for ever, in every process. */
export class Designs {
  private readonly newest = new LRUCache<string, { readonly version: number; readonly design: AppDesign }>({ max: 500 });

  constructor(private readonly database: DataSource) {}

  /** Remembers a design that has been committed as a version of the app. */
  keep(app: string, version: number, design: AppDesign): AppDesign {
    const known = this.newest.get(app);
    if (known === undefined || known.version < version) this.newest.set(app, { version, design });
    return design;
  }

  /** An app as it is now, whoever asks; null: there is none of this id. */
  async newestOf(id: string): Promise<{ readonly id: string; readonly schema: string; readonly version: number; readonly design: AppDesign } | null> {
    const row = await this.database.getRepository(Apps).findOneBy({ id });
    return row === null ? null : { id: row.id, schema: row.schema, version: row.version, design: await this.at(row.id, row.version) };
  }

  /** `manager` is that of a transaction that goes on: it has its connection already. */
  async at(app: string, version: number, manager: EntityManager = this.database.manager): Promise<AppDesign> {
    const known = this.newest.get(app);
    if (known?.version === version) return known.design;
    const row = await manager.findOneByOrFail(DesignVersions, { appId: app, version });
    return this.keep(app, version, storedDesign(row.design));
  }
}
