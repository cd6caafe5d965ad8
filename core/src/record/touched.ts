/** Which tables a save touches, and which others show something of them. */
import { tableWritten } from '../design/automation.js';
import type { AppDesign } from '../design/design.js';

/** The tables that writes change: their own, those of removed children, and those that automations write in their turn. */
export function tablesTouched(design: AppDesign, writes: readonly { readonly kind: string; readonly table: string }[]): readonly string[] {
  const touched = new Set(writes.map((write) => write.table));
  const losing = new Set(writes.filter((write) => write.kind === 'remove').map((write) => write.table));
  for (const parent of losing)
    for (const { child, whenParentRemoved } of design.relationships.filter((relationship) => relationship.parent === parent)) {
      if (whenParentRemoved !== 'refuse') touched.add(child);
      if (whenParentRemoved === 'remove') losing.add(child);
    }
  for (const table of touched)
    for (const automation of design.automations)
      if (automation.isOn && automation.table === table) for (const step of automation.steps) touched.add(tableWritten(automation, step) ?? table);
  return [...touched];
}

// Formulas and captions walk references and children, mostly one step and seldom more than two.
const steps = 2;

/** Those tables and their neighbours, as far as the design knows them: what can look otherwise now. */
export function tablesShowing(design: AppDesign, touched: readonly string[]): readonly string[] {
  const all = new Set(touched.filter((id) => design.tables.some((table) => table.id === id)));
  for (let i = 0; i < steps; i += 1)
    for (const id of [...all])
      for (const { parent, child } of design.relationships) {
        if (parent === id) all.add(child);
        if (child === id) all.add(parent);
      }
  return [...all];
}
