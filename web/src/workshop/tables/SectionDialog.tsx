import Button from '@mui/material/Button';
import { shownTables, type DesignChange } from '@bibliona/core';
import { TrashIcon } from '@phosphor-icons/react';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { NameField } from '../parts/NameField.js';
import { Several } from '../parts/Several.js';
import { ToneField } from '../parts/ToneField.js';
import { useMaking } from '../use-making.js';

/** In characters. */
const longest = 60;

/**
 * A section: tables that are shown together, on the shelf and in the diagram.
 * @param old the name of the one that is changed; null: a new one
 * @param begun the tables that a new one begins with
 */
export default function SectionDialog({
  old,
  begun,
  onClose,
}: {
  readonly old: string | null;
  readonly begun: readonly string[];
  readonly onClose: () => void;
}) {
  const { design } = useApp();
  const { isSending, problemAt, say, clear, make } = useMaking('section');
  const known = design.sections.find((section) => section.name === old);
  const tables = shownTables(design);
  const [name, setName] = useState(old ?? '');
  const [tone, setTone] = useState(known?.tone ?? 'grey');
  const [chosen, setChosen] = useState(old === null ? begun : tables.filter((table) => table.section === old).map((table) => table.id));
  /** The tables whose section it is from now on, all others that had it lose it. */
  const movedTo = (section: string, members: readonly string[]): readonly DesignChange[] =>
    tables.flatMap((table): readonly DesignChange[] => {
      const next = members.includes(table.id) ? section : table.section === old ? '' : table.section;
      return next === table.section ? [] : [{ kind: 'change_table', table: table.id, section: next }];
    });
  const send = (): void => {
    const called = name.trim();
    if (called === '') return say('name', 'Enter a name');
    if (called.length > longest) return say('name', `A name has at most ${longest} characters`);
    if (called !== old && tables.some((table) => table.section.toLowerCase() === called.toLowerCase())) return say('name', 'Another section has this name');
    if (chosen.length === 0) return say('tables', 'Choose at least one table');
    // One that no table names any more is not to be seen, so its name is free.
    const unused = design.sections.filter((section) => section.id !== known?.id && section.name.toLowerCase() === called.toLowerCase());
    const id = known?.id ?? newId('sc');
    void make(
      [
        ...unused.map((section): DesignChange => ({ kind: 'remove', part: 'section', id: section.id })),
        ...movedTo(called, chosen),
        { kind: 'put', part: 'section', value: { id, name: called, tone } },
      ],
      onClose,
    );
  };
  const remove = (): void =>
    void make([...movedTo('', []), ...(known === undefined ? [] : [{ kind: 'remove' as const, part: 'section' as const, id: known.id }])], onClose);
  return (
    <FormDialog
      title={old === null ? 'A new section' : `Section ${old}`}
      intro="Its tables are shown together, on the shelf and in the diagram."
      onClose={onClose}
      onSubmit={send}
      verb={old === null ? 'Make the section' : 'Save'}
      isSending={isSending}
      problem={problemAt('form')}
    >
      <NameField value={name} onChange={(typed) => (setName(typed), clear())} problem={problemAt('name')} />
      <ToneField value={tone} onChange={setTone} />
      <Several
        label="Tables"
        options={tables}
        chosen={chosen}
        onChange={(next) => (setChosen(next), clear())}
        problem={problemAt('tables')}
        hint="A table is in one section at most."
        none="No such table."
      />
      {old !== null && (
        <Button className="go" startIcon={<TrashIcon />} onClick={remove}>
          Remove the section, not its tables
        </Button>
      )}
    </FormDialog>
  );
}
