import type { Choice, Field, Tone, Value } from '@bibliona/core';
import { idsIn } from '@bibliona/core';

/** The colour of a choice, which is never its only sign: the word stands beside it. */
export const ToneMark = ({ tone }: { readonly tone: Tone | undefined }) =>
  tone === undefined ? null : <i className={`choice-mark tone-${tone}`} aria-hidden="true" />;

/** Whether some of the choices of a field have a colour: else their words are all there is to draw. */
export const hasTones = (field: Field): boolean => 'choices' in field && field.choices.some((choice) => choice.tone !== undefined);

/** The choices of a value in one line, each with its colour. */
export function ChosenLine({ field, value }: { readonly field: Field; readonly value: Value }) {
  const choices: readonly Choice[] = 'choices' in field ? field.choices : [];
  const ids = idsIn(value);
  return (
    <>
      {ids.map((id, i) => {
        const choice = choices.find((each) => each.id === id);
        return (
          <span key={id}>
            {i > 0 && ', '}
            <ToneMark tone={choice?.tone} />
            {choice?.label ?? id}
          </span>
        );
      })}
    </>
  );
}
