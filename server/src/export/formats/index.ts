/** Rows as a file of any format. */
import type { ExportFormatName } from '@bibliona/core';
import { csv } from './csv.js';
import type { FormatWriter } from './format.js';
import { json } from './json.js';
import { xlsx } from './xlsx.js';

export type { ExportColumn, ExportRow, ExportSheet } from './format.js';
export const formatWriters: Readonly<Record<ExportFormatName, FormatWriter>> = { csv, xlsx, json };
