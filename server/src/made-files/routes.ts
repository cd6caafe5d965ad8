import { contract, fileRouteNames, fileRoutes, type FileRouteName } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { forMember, type Served } from '../http/serve.js';
import { makerOf } from './makers.js';
import type { MadeFiles } from './made-files.js';

/** @param heavy connections for what asks more than a page of records does */
export function madeFileRoutes(files: MadeFiles, heavy: DataSource): readonly Served[] {
  return [
    ...fileRouteNames.map((name) => served(name, heavy)),
    forMember(contract.makeFile, ({ body }, who) => files.make(who, body)),
    forMember(contract.readMadeFiles, async (_, who) => ({ files: await files.list(who) })),
    forMember(contract.readMadeFile, async ({ params, context }, who) => {
      const { name, type, size, content } = await files.read(who, params.file);
      context.type = type;
      context.length = size;
      context.attachment(name);
      return content;
    }),
    forMember(contract.removeMadeFile, async ({ params }, who) => {
      await files.remove(who, params.file);
      return {};
    }),
  ];
}

/** A file that is sent as it is made. */
const served = (name: FileRouteName, heavy: DataSource): Served =>
  forMember(fileRoutes[name], async ({ params, query, context }, who) => {
    const file = await makerOf(name)(heavy, who, { params, query });
    context.type = file.type;
    context.attachment(file.name);
    return file.content;
  });
