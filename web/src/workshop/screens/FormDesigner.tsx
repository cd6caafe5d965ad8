import { itemKey, tableOf, type Form, type FormItem } from '@bibliona/core';
import { useState } from 'react';
import { useApp } from '../../state/app.js';
import { useRemembered } from '../../state/remembered.js';
import { Roller } from '../../ui/Roller.js';
import { DraftSheet } from '../DraftSheet.js';
import { useDraft } from '../use-draft.js';
import { FormDetails } from './FormDetails.js';
import { FormProof } from './FormProof.js';
import { FormSheet } from './FormSheet.js';
import { fieldsIn, withItem, withoutItems } from './form-draft.js';

/** One form on the sheet: its fields where they will be, beside what could be put there; below it the form on a real record. */
export function FormDesigner({ saved, shelf }: { readonly saved: Form; readonly shelf: React.ReactNode }) {
  const app = useApp();
  const [height, setHeight] = useRemembered<number>('proof forms', 280);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const isOpening = saved.isDefault && saved.roles.length === 0;
  const draft = useDraft(saved, {
    put: (form) => ({ kind: 'put', part: 'form', value: form }),
    remove: { kind: 'remove', part: 'form', id: saved.id },
    back: `/workshop/${app.id}/screens`,
  });
  const { part: form, edit } = draft;
  const table = tableOf(app.design, form.table);
  const count = fieldsIn(form).size;
  // What is put on the form comes after what is chosen, else at its end.
  const put = (item: FormItem): void => {
    const at = form.items.findLastIndex((each) => chosen.has(itemKey(each)));
    edit(withItem(form, item, at < 0 ? form.items.length : at + 1));
    setChosen(new Set([itemKey(item)]));
  };
  const remove = (keys: ReadonlySet<string>): void => {
    edit(withoutItems(form, keys));
    setChosen(new Set());
  };
  return (
    <div className="station" style={{ '--proof-h': `${height}px` } as React.CSSProperties}>
      {shelf}
      <DraftSheet
        draft={draft}
        what="form"
        facts={`Form of ${table.name}, ${count} ${count === 1 ? 'field' : 'fields'}`}
        desk={isOpening ? `/desk/${app.id}/${table.id}/new` : `/desk/${app.id}/f/${table.id}?form=${saved.id}`}
      >
        <FormSheet table={table} form={form} chosen={chosen} onChoose={setChosen} onChange={edit} onPut={put} onRemove={remove} />
      </DraftSheet>
      <aside className="details" aria-label="Details" data-region="details">
        <FormDetails
          table={table}
          form={form}
          saved={saved}
          chosen={chosen}
          onChange={edit}
          onChoose={setChosen}
          onRemoveItems={remove}
          onRemove={isOpening ? null : () => void draft.remove()}
        />
      </aside>
      <section className="proof" aria-label="Proof" data-region="proof">
        <Roller height={height} onHeight={setHeight} />
        <FormProof table={table} form={form} />
      </section>
    </div>
  );
}
