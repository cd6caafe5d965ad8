import { indexesOf, storedPart } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { Apps } from '../db/entities.js';
import { makeMissing, type WantedIndexes } from '../db/missing-indexes.js';
import type { Designs } from './designs.js';

/** Makes the indexes that apps from before this version of the product lack, or have in an older form. */
export const makeMissingIndexes = (url: string, database: DataSource, designs: Designs, closing: AbortSignal): Promise<void> =>
  makeMissing(url, wantedIndexes(database, designs), closing);

async function* wantedIndexes(database: DataSource, designs: Designs): AsyncGenerator<WantedIndexes> {
  for (const { id, schema, version } of await database.getRepository(Apps).find())
    yield { schema, indexes: indexesOf(storedPart(await designs.at(id, version)), schema) };
}
