import type { Pool } from 'pg';
import type { DataSource } from 'typeorm';

/**
 * The pool that TypeORM made, for single statements that run with every request: a query runner around each of them
 * costs as much as the statement (measured on saving a record).
 */
export const poolOf = (database: DataSource): Pool => (database.driver as unknown as { readonly master: Pool }).master;
