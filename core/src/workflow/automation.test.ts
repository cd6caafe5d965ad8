import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChanges } from '../parts/change.js';
import { Automation, type Step } from '../design/automation.js';
import type { AppDesign } from '../design/design.js';
import type { DesignChange } from '../parts/design-change.js';
import { designMessage } from '../parts/issues.js';
import { designOf, field, related, table } from '../parts/sample.js';
import type { Value } from '../fields/value.js';
import { addressesIn, askedOf, conditionOf, effectOf, setOffBy, type RecordEvent } from './automation.js';
import { standardLocale } from '../values/locale.js';

const kinds = [
  { id: 'new', label: 'New' },
  { id: 'old', label: 'Old one' },
];
const fill = (id: string, expression: string) => ({ field: id, itself: false, expression });
const automation = (id: string, more: object): Automation => Automation.parse({ id, name: id, table: 'lots', on: 'added', steps: [], ...more });
const put = (each: Automation): DesignChange => ({ kind: 'put', part: 'automation', value: each });
const everyStep: readonly Step[] = [
  { kind: 'change', id: 's_change', values: [fill('l_jars', 'Jars + 1'), fill('l_kind', '"Old one"'), fill('l_price', 'Jars / 3')] },
  { kind: 'add', id: 's_add', table: 'tasks', values: [fill('t_what', '"Label " + Code'), { field: 'tasks_up', itself: true, expression: '' }] },
  { kind: 'mail', id: 's_mail', to: { kind: 'address', expression: 'Mail' }, subject: '{Code}:\n{Kind}', body: '{Jars} at {Price}, {Filled}' },
];
const design = designOf([
  table('lots', 'Lots', [
    field({ kind: 'text', id: 'l_code', name: 'Code' }),
    field({ kind: 'whole', id: 'l_jars', name: 'Jars' }),
    field({ kind: 'decimal', id: 'l_price', name: 'Price', digits: 2 }),
    field({ kind: 'date', id: 'l_filled', name: 'Filled' }),
    field({ kind: 'text', id: 'l_mail', name: 'Mail' }),
    field({ kind: 'choice', id: 'l_kind', name: 'Kind', choices: kinds }),
  ]),
  table('tasks', 'Tasks', [field({ kind: 'text', id: 't_what', name: 'What' })]),
  related('lots', 'tasks', 'Lot', 'Tasks'),
  put(automation('au_all', { condition: 'Kind = "Old one"', steps: everyStep })),
]);
const inDesign = (of: AppDesign, id: string): Automation => {
  const found = of.automations.find((each) => each.id === id);
  if (found === undefined) throw new Error(id);
  return found;
};
const changed = (...changes: readonly DesignChange[]): AppDesign => {
  const made = applyChanges(design, changes);
  if (!made.ok) throw new Error(made.issues.map(designMessage).join(' '));
  return made.design;
};
const all = inDesign(design, 'au_all');

describe('what triggers an automation', () => {
  const event = (kind: RecordEvent['kind'], fields: readonly string[], move: string | null = null): RecordEvent => ({
    kind,
    table: 'lots',
    id: 1,
    fields,
    move,
  });
  const offers = (more: object, on: RecordEvent): boolean => setOffBy({ ...design, automations: [automation('au_one', more)] }, on).length === 1;

  it.each([
    [{ on: 'added' }, event('added', ['l_code']), true],
    [{ on: 'added' }, event('changed', ['l_code']), false],
    [{ on: 'added', isOn: false }, event('added', []), false],
    [{ on: 'added', table: 'tasks' }, event('added', []), false],
    [{ on: 'changed' }, event('changed', ['l_code']), true],
    [{ on: 'changed' }, event('changed', []), false],
    [{ on: 'changed' }, event('added', ['l_code']), false],
    [{ on: 'changed', fields: ['l_jars'] }, event('changed', ['l_code']), false],
    [{ on: 'changed', fields: ['l_jars', 'l_code'] }, event('changed', ['l_code']), true],
    // A move changes the status, and is a change too.
    [{ on: 'changed', fields: ['l_kind'] }, event('moved', ['l_kind'], 'mo_one'), true],
    [{ on: 'moved' }, event('moved', ['l_kind'], 'mo_one'), true],
    [{ on: 'moved' }, event('changed', ['l_kind']), false],
    [{ on: 'moved', moves: ['mo_two'] }, event('moved', ['l_kind'], 'mo_one'), false],
    [{ on: 'moved', moves: ['mo_two', 'mo_one'] }, event('moved', ['l_kind'], 'mo_one'), true],
  ])('%j by %j: %s', (more, on, expected) => expect(offers(more, on)).toBe(expected));
});

describe('what a step comes to', () => {
  const asked = (step: Step, answers: readonly Value[]) => {
    expect(askedOf(all, step, null, 7, design).columns).toHaveLength(answers.length);
    return effectOf(all, step, 7, answers, design, standardLocale());
  };
  const [change, add, mail] = everyStep as [Step, Step, Step];

  it('asks for the condition first when there is one', () => {
    expect(askedOf(all, change, conditionOf(all, design), 7, design).columns).toHaveLength(7);
    expect(askedOf(all, undefined, null, 7, design).columns).toEqual([]);
  });

  it('is values in the form in which fields hold them, and leaves out what stands there already', () => {
    expect(asked(change, ['13', '12', 'Old one', 'Old one', '4.3333333333', '4.00'])).toEqual({
      kind: 'change',
      table: 'lots',
      values: { l_jars: 13, l_price: '4.33' },
      fields: [
        { field: 'l_jars', before: '12', after: '13' },
        { field: 'l_price', before: '4.00', after: '4.3333333333' },
      ],
    });
    expect(asked(change, ['12.5', null, 'Odd', null, null, '1'])).toMatchObject({ values: { l_jars: '12.5', l_kind: 'Odd', l_price: null } });
  });

  it('refers to the record itself', () => {
    expect(asked(add, ['Label 7'])).toMatchObject({ kind: 'add', table: 'tasks', values: { t_what: 'Label 7', tasks_up: 7 } });
  });

  it('prints values into mails as their fields print them, and keeps the subject on one line', () => {
    expect(asked(mail, ['a@b.example; c@d.example', '0117', 'New', '12000', '4.5', '2026-09-14'])).toMatchObject({
      kind: 'mail',
      to: ['a@b.example', 'c@d.example'],
      letter: { subject: '0117: New', body: '12,000 at 4.50, 14 Sep 2026' },
    });
    expect(asked(mail, [null, null, null, null, null, null])).toMatchObject({ to: [], letter: { subject: ':', body: ' at , ' } });
  });

  it('finds each address once, and no empty ones', () => {
    expect(addressesIn(' a@b.example,c@d.example;\n a@b.example,, ')).toEqual(['a@b.example', 'c@d.example']);
    fc.assert(fc.property(fc.string(), (text) => addressesIn(text).every((address) => address.trim() === address && address !== '')));
  });
});

describe('an automation in its design', () => {
  it('follows what is called otherwise: fields in expressions and texts, labels in values', () => {
    const lots = design.tables[0];
    const plan = (id: string, more: object) => ({ ...lots?.fields.find((each) => each.id === id), ...more }) as never;
    const now = inDesign(
      changed(
        { kind: 'change_field', table: 'lots', field: plan('l_code', { name: 'Number' }) },
        { kind: 'change_field', table: 'lots', field: plan('l_mail', { name: 'Write to' }) },
        { kind: 'change_field', table: 'lots', field: plan('l_kind', { choices: [kinds[0], { id: 'old', label: 'Aged' }] }) },
      ),
      'au_all',
    );
    expect(now.condition).toBe('Kind = "Aged"');
    expect(now.steps[0]).toMatchObject({ values: [{ expression: 'Jars + 1' }, { expression: '"Aged"' }, {}] });
    expect(now.steps[1]).toMatchObject({ values: [{ expression: '"Label " + Number' }, { itself: true }] });
    expect(now.steps[2]).toMatchObject({ to: { expression: 'Write to' }, subject: '{Number}:\n{Kind}' });
  });

  it('goes with its table, and is told of by name where it would be left without what it speaks of', () => {
    const refusal = (...changes: readonly DesignChange[]): string => {
      const made = applyChanges(design, changes);
      return made.ok ? '' : made.issues.map(designMessage).join(' ');
    };
    expect(refusal({ kind: 'remove', part: 'table', id: 'tasks' })).toContain('Step 2 of the automation au_all adds records to a table that no longer exists');
    expect(refusal({ kind: 'remove_field', table: 'lots', field: 'l_jars' })).toContain('Step 1 of the automation au_all fills a field of Lots');
    expect(refusal({ kind: 'remove', part: 'table', id: 'lots' })).toBe('');
    expect(changed({ kind: 'remove', part: 'table', id: 'lots' }).automations).toEqual([]);
    const step = (more: object) => refusal(put(automation('au_new', { steps: [{ id: 's_new', ...more }] })));
    expect(step({ kind: 'change', values: [fill('l_kind', '"Odd"')] })).toContain('“Odd” is none of the choices of Kind');
    expect(step({ kind: 'change', values: [fill('l_jars', '')] })).toContain('does not say what Jars is filled with');
    expect(step({ kind: 'change', values: [fill('l_jars', '"a"')] })).toContain('The value for Jars in step 1 of the automation au_new: This must be a number');
    expect(step({ kind: 'change', values: [fill('l_jars', '1'), fill('l_jars', '2')] })).toContain('fills Jars twice');
    expect(step({ kind: 'change', values: [{ field: 'l_code', itself: true }] })).toContain('cannot put this record into Code');
    expect(step({ kind: 'add', table: 'tasks', values: [fill('tasks_up', 'Code')] })).toContain('This must be a record of Lots');
    expect(step({ kind: 'mail', to: { kind: 'role', role: 'nobody' }, subject: '', body: '' })).toContain('sends mail to a role that no longer exists');
    expect(step({ kind: 'mail', to: { kind: 'address', expression: 'Jars' }, subject: '', body: '' })).toContain('The address in step 1');
    expect(step({ kind: 'mail', to: { kind: 'address', expression: 'Mail' }, subject: '', body: 'a {Jar}' })).toContain('“{Jar}” in the text in step 1');
    expect(refusal(put(automation('au_new', { name: 'AU_ALL' })))).toContain('called "AU_ALL"');
    expect(refusal(put(automation('au_new', { on: 'moved' })))).toContain('its records have no route with moves');
    expect(refusal(put(automation('au_new', { on: 'changed', fields: ['l_gone'] })))).toContain('is triggered by changes of a field that no longer exists');
  });
});
