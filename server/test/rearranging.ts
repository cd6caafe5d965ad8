/** What tests of rearranged designs do: preview one, do it, undo it and look at the records. */
import { contract, type OpenApp, type Rearrangement } from '@bibliona/core';
import { saveKey, type Caller, type TestServer } from './support.js';

/** The regions of the table `many`, which are texts, become a table of their own. */
export const regionsOfMany: Rearrangement = {
  kind: 'field_to_table',
  table: 'many',
  field: 'm_region',
  made: { id: 'regions', name: 'Regions', form: 'form_regions', list: 'list_regions', nameField: 'r_name', nameLabel: 'Name' },
  relationship: { id: 'many_of_region', field: 'm_region_ref', childrenName: 'Many' },
  carried: [],
};

export function rearranging(it: () => TestServer, who: () => Caller) {
  const body = (app: OpenApp, plan: Rearrangement) => ({ version: app.version, to: { kind: 'rearranged' as const, plan } });
  return {
    /** What the preview tells. */
    told: async (app: OpenApp, plan: Rearrangement): Promise<readonly string[]> => {
      const { steps } = await who().call(contract.previewRestore, { params: { app: app.id }, body: body(app, plan) });
      return steps.flatMap((each) => each.found ?? []);
    },
    rearrange: (app: OpenApp, plan: Rearrangement): Promise<OpenApp> =>
      who().call(contract.restoreDesign, { params: { app: app.id }, body: { ...body(app, plan), acceptLoss: true } }),
    refusal: async (app: OpenApp, plan: Rearrangement): Promise<string> =>
      (await who().refused(contract.restoreDesign, { params: { app: app.id }, body: { ...body(app, plan), acceptLoss: true } })).body.message,
    step: (app: OpenApp, direction: 'undo' | 'redo'): Promise<OpenApp> =>
      who().call(contract.undoDesign, { params: { app: app.id }, body: { version: app.version, direction, acceptLoss: true } }),
    /** The rows of a query in which `~` is the schema of the app. */
    rows: (app: OpenApp, text: string): Promise<Record<string, unknown>[]> => it().sql<Record<string, unknown>>(text.replaceAll('~', `"app_${app.id}"`)),
    save: (app: OpenApp, writes: readonly object[]) =>
      who().call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes: writes as never } }),
  };
}
