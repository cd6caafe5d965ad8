/** The images that a design names: nobody gets at a file by writing its hash into a form. */
import { endingOf, imagesOn, type AppDesign, type Person } from '@bibliona/core';
import type { QueryRunner } from 'typeorm';
import { runOwn } from '../db/own.js';
import { Refusal } from '../http/refusal.js';

const known = `
  SELECT file.hash, file.size::float8 AS size, file.ending FROM bibliona.file
  WHERE file.is_stored AND file.hash = ANY($3) AND (
    EXISTS (SELECT FROM bibliona.file_use AS used WHERE used.hash = file.hash AND used.app_id = $1 AND used.person_id = $2)
    OR EXISTS (SELECT FROM bibliona.design_file AS held WHERE held.hash = file.hash AND held.app_id = $1))`;
// Kept as long as the app: an earlier version of the design, which names them, can come back.
const hold = `INSERT INTO bibliona.design_file (app_id, hash) SELECT $1, hash FROM unnest($2::text[]) AS hash ON CONFLICT DO NOTHING`;

/**
 * Takes the images that are new in a design: those that this person uploaded to the app, and those that it held before.
 * @throws Refusal invalid
 */
export async function admitImages(runner: QueryRunner, app: string, person: Person, before: AppDesign, after: AppDesign): Promise<void> {
  const named = (design: AppDesign) => new Map(imagesOn(design.forms).map((image) => [JSON.stringify(image), image]));
  const there = named(before);
  const added = [...named(after)].flatMap(([key, image]) => (there.has(key) ? [] : [image]));
  if (added.length === 0) return;
  const hashes = added.map((image) => image.hash);
  const files = await runOwn<{ hash: string; size: number; ending: string }>(runner, 'images of a design', known, [app, person.id, hashes]);
  const stranger = added.find(({ name, hash, size }) => !files.some((file) => file.hash === hash && file.size === size && file.ending === endingOf(name)));
  if (stranger !== undefined) throw new Refusal('invalid', `The image “${stranger.name}” is no longer on the server. Choose it again.`);
  await runOwn(runner, 'hold images', hold, [app, hashes]);
}
