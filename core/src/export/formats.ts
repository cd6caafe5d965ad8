/** The formats that records and answers are saved in. */
import { z } from 'zod';

export const exportFormats = {
  xlsx: { word: 'XLSX, for spreadsheets', type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet' },
  csv: { word: 'CSV, plain text', type: 'text/csv; charset=utf-8' },
  json: { word: 'JSON, for programs', type: 'application/json; charset=utf-8' },
} as const satisfies Record<string, { readonly word: string; readonly type: string }>;
export type ExportFormatName = keyof typeof exportFormats;
export const exportFormatNames = Object.keys(exportFormats) as [ExportFormatName, ...ExportFormatName[]];

/** Ends a text that is longer than a cell of a workbook: an import leaves such a field of a record as it is. */
export const cutMark = ' … (cut here: too long for a cell)';

export const ExportFormat = z.enum(exportFormatNames).default('csv');
