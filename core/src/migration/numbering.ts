import { ident } from '../sql/sql.js';
import type { Attachment } from './columns.js';

/** From now on every record of the table at `at` gets a number; those that are there get theirs in the order in which they were added. */
export const numberingSql = (at: string, column: string, { name, definition }: Attachment): readonly string[] => [
  `CREATE TRIGGER ${ident(name)} BEFORE INSERT OR UPDATE OF ${column} ON ${at} FOR EACH ROW EXECUTE FUNCTION ${definition}`,
  // First the numbers that are there are counted, then the missing ones follow them.
  `UPDATE ${at} SET ${column} = ${column} WHERE ${column} IS NOT NULL`,
  `DO $do$ DECLARE one bigint; BEGIN FOR one IN SELECT id FROM ${at} WHERE ${column} IS NULL ORDER BY id LOOP UPDATE ${at} SET ${column} = NULL WHERE id = one; END LOOP; END $do$`,
];
