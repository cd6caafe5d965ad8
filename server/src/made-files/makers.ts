/** What makes the file of each route that answers with one: while somebody waits for it, or in the background. */
import type { fileRoutes, FileRouteName } from '@bibliona/core';
import type { FileMaker } from '../export/file.js';
import { exportQuery } from '../queries/export.js';
import { exportRecords } from '../records/export.js';
import { printQuery, printRecords, printReport } from '../reports/print.js';

const fileMakers: { readonly [Name in FileRouteName]: FileMaker<(typeof fileRoutes)[Name]> } = {
  exportRecords,
  printRecords,
  exportQuery,
  printQuery,
  printReport,
};

/** The maker of a route, for what the shapes of that route have parsed. */
export const makerOf = (name: FileRouteName): FileMaker<(typeof fileRoutes)[FileRouteName]> => fileMakers[name];
