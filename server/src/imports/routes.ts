import { contract, type ReadingChoice } from '@bibliona/core';
import { forMember, type Served } from '../http/serve.js';
import type { ImportsService } from './imports.js';

export function importRoutes(imports: ImportsService): readonly Served[] {
  return [
    forMember(contract.uploadImport, ({ query, context }, { app, person }) => imports.upload(app, person, query.name, context.req)),
    forMember(contract.readImport, ({ params }, { app }) => imports.read(app, params.import)),
    forMember(contract.surveyImport, ({ params, body }, { app }) => imports.survey(app, params.import, body.reading as ReadingChoice)),
    forMember(contract.runImport, ({ params, body }, { app, person }) => imports.run(app, person, params.import, body)),
    forMember(contract.cancelImport, ({ params }, { app }) => imports.cancel(app, params.import)),
    forMember(contract.takeBackImport, ({ params, body }, { app, person }) => imports.takeBack(app, person, params.import, body.others)),
  ];
}
